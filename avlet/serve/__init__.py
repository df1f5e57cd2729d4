"""Titles in a browser: a library served over HTTP, with the engine's own pictures. A page lays out, poses and paints nothing."""
