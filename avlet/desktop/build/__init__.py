"""The Build bench."""
