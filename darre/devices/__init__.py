"""Devices that send readings (loggers, scales, meters), the one address that takes them, and their series."""
