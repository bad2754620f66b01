"""The bridge: takes readings from where people have them, an MQTT broker or a scale's serial port, to Darre.

A process of its own, off until it is started, that knows the app by its documented ingest address alone.
"""
