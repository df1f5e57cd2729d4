"""The Time bench."""
