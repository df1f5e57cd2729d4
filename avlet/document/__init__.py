"""The template as frozen values, the metadata of its properties, and edits from one value to the next."""
