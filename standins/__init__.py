"""Stand-ins for the devices of a workshop: scale, humidity logger, energy meter. They know nothing of the app but its
ingest endpoint, and follow the core's physics with a truth that the app is not told.
"""
