"""The Card bench."""
