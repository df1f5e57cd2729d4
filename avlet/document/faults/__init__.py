"""What keeps a document from being taken: what does not hold together, and too much of anything."""
