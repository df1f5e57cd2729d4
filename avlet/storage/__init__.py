"""Files: templates, the library, recovery of unsaved work. Formats are open: zip, JSON, OpenType, PNG."""
