"""Painting with Skia: outlines, fills and mattes on one canvas."""
