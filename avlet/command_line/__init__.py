"""The command line: one file for each kind of thing that commands are about, and what they share."""
