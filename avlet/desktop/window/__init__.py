"""The window: rail, header, files, keys, first page."""
