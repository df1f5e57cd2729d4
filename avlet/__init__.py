"""Avlet: animated titles whose shapes size themselves to the words."""

__version__ = "0.1.0"
