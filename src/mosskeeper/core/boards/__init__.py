"""Boards: flat shapes and lines that an artist roughs out, read and composed with the words into one scene."""
