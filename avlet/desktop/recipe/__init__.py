"""The recipe: a part as sentences and rows."""
