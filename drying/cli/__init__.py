"""Command line: the core for files.

`python -m drying transport | endpoint | evidence FILE`; one module a command.
Text and JSON in, text and JSON out.
"""
