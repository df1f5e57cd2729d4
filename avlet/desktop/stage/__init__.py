"""The stage and what lies on and under it."""
