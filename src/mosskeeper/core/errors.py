"""Errors that an artist can cause. Everything else is a bug."""

from __future__ import annotations


class ArtistError(Exception):
    """A sentence for the artist, and the field it belongs to ('' where there is none)."""

    def __init__(self, sentence: str, field: str = "") -> None:
        super().__init__(sentence)
        self.sentence, self.field = sentence, field


class BadPicture(ArtistError):
    """A file that cannot be used as a picture."""


class BadRecipe(ArtistError):
    """A recipe document that cannot be read."""


class NotFound(ArtistError):
    """A story, shot, take or picture that does not exist."""


class Stopped(Exception):
    """Work ended because it was asked to stop."""
