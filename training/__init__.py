"""Training of the reader: drawings with everything known about them, two networks, their export. Not part of the application."""
