"""The gallery of starts, as the first page and the window for a new template show it."""
