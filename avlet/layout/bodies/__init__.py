"""What each kind of part is made of at rest, a file a kind; :data:`avlet.layout.bodies.table.BODIES` makes them."""
