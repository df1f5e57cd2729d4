"""The Roster bench: one template, a table, many films."""
