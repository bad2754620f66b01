"""The demo world: an invented observatory shed with its spools, kit and story. Imported by nobody."""
