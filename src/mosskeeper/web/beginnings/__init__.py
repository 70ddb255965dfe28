"""What begins from a picture, beside every take, mend, stage, board and brought picture."""
