"""Proof in the window: what is measured before a template leaves."""
