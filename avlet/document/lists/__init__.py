"""Lists of credits: what they are made of, line by line, and from tables and back."""
