"""Time: timecode, spans, eases, and the pose of every unit in a frame."""
