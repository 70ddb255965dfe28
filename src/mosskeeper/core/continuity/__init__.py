"""Continuity: how far the subject of a picture is from its anchors, and how alike pictures are."""
