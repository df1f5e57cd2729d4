"""Frames to and from films and pictures (PyAV), made-up moving plates, timelines (OpenTimelineIO)."""
