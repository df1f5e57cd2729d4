"""Moves, eases and keys as values."""
