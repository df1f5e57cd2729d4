"""The desktop application. PyQt6 only here."""
