"""Words with one thing left out, or said otherwise."""

from __future__ import annotations

from mosskeeper.core.words.understand import Span, understand


def without(words: str, attribute: str) -> str:
    """The words without those that say one attribute, but for such as say who is there, too."""
    for span in reversed(_saying(words, attribute)):
        words = words[: span.start] + words[span.end :]
    return words


def with_said(words: str, attribute: str, phrase: str) -> str:
    """The words with a phrase where they said an attribute; where nothing did, at their end."""
    saying = _saying(words, attribute)
    if not saying:
        return f"{words.rstrip(' ,.')}, {phrase}" if words.strip() else phrase
    for span in reversed(saying[1:]):
        words = words[: span.start] + words[span.end :]
    return f"{words[: saying[0].start]}{phrase}{words[saying[0].end :]}"


def _saying(words: str, attribute: str) -> list[Span]:
    spans = [(span, {a for a, _ in span.says}) for span in understand(words).spans]
    return [span for span, says in spans if attribute in says and "subject" not in says]
