"""Poses for the hand: the book of poses, and any skeleton on any body."""
