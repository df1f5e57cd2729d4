"""Numbers as people write them: read where they are typed, exact in between, written by the rules of a language."""
