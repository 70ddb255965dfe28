"""The page that looks over a whole story for strangers, lost marks and wrong outfits."""
