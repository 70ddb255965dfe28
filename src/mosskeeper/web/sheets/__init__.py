"""Pages of a character's sheets, and of the anchor's face put on pictures."""
