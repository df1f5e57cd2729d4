"""Small widgets, icons and colours that every room uses."""
