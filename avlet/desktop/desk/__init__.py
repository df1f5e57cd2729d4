"""The cutting desk."""
