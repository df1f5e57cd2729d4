"""What parts look like: paints, colours, the forms of shapes, pictures and drawings."""
