"""What of a picture can be chosen: parts by name, edits of masks, masks carried to other pictures, offers."""
