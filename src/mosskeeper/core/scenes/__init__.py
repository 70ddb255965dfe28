"""Scenes compared and interpolated: what changes between two scenes, and the scenes on the way from one to the other."""
