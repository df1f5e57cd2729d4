"""Edits: functions from one document to the next, and undo."""
