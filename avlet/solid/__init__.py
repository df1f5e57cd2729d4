"""Solid letters: meshes from outlines, drawn with depth, light and shadow. Only this folder knows OpenGL."""
