"""Told means drawn: which understood words a picture does not show, by what it was drawn from."""

from __future__ import annotations

from mosskeeper.core.illustrator.description import Description, Person
from mosskeeper.core.illustrator.vocabulary.outfits import has_hood
from mosskeeper.core.traits import BY_NAME, value_in
from mosskeeper.core.words.attributes import OF_PICTURE
from mosskeeper.core.words.tints import without_effect
from mosskeeper.core.words.understand import NamedFigure, Span, Understanding

_OF_LAYOUT = ("pose", "view", "gaze", "framing", "angle")
_EXACT = {"hair colour": "hair", "eyes": "eyes", "skin": "skin"}  # attributes whose value may be a colour of no table
_UNDER_HOOD = ("headwear", "earrings")


def unseen(said: Understanding, shown: Description) -> list[str]:
    """Sentences about understood phrases that a picture of `shown` lacks, in the order of the words."""
    out = dict[str, None]()
    for span in said.spans:
        if span.kind == "understood" and (span.says or span.tints or span.stands):
            why = _why(span, said, shown)
            if why is not None:
                out[f"{span.text} ({why})" if why else span.text] = None
    return list(out)


def _why(span: Span, said: Understanding, shown: Description) -> str | None:
    """Why a phrase is not seen, "" where there is no more to tell; None where it is."""
    figures = (said.first, *said.others)
    if span.stands and span.stands not in {one.name for one in shown.things}:
        return ""
    of_picture = [attribute for attribute, _ in span.says if attribute in OF_PICTURE]
    if not all(_is_shown(attribute, said.wanted.get(attribute, {}), shown, shown) for attribute in of_picture):
        return ""
    for n in span.figures:
        if n >= len(shown.figures):
            return "this person is not in the picture"
        for why in (_why_of(span, figures[n], shown.figures[n], shown), _why_colour(span, shown.figures[n])):
            if why is not None:
                return why
    return None


def _why_of(span: Span, figure: NamedFigure, person: Person, shown: Description) -> str | None:
    """The same, of what a phrase says about one person."""
    for attribute, _ in span.says:
        if attribute in OF_PICTURE or attribute in ("colour", "trim") or attribute not in figure.wanted:
            continue
        if has_hood(person.outfit) and attribute in _UNDER_HOOD:
            return "under the hood"
        exact = _EXACT.get(attribute, "") in figure.tints
        if not exact and not _is_shown(attribute, figure.wanted[attribute], person, shown):
            return ""
    return None


def _why_colour(span: Span, person: Person) -> str | None:
    for thing, _ in span.tints:
        if without_effect(person, thing):
            return f"no {thing} is worn" if thing != "prop" else "nothing is held"
        if thing == "hat" and has_hood(person.outfit):
            return "under the hood"
    return None


def _is_shown(attribute: str, wanted: dict[str, float], person: Person, shown: Description) -> bool:
    """Whether one of the values that words want is there. Of what a description does not hold nothing is claimed."""
    if not wanted or (attribute not in BY_NAME and attribute not in _OF_LAYOUT):
        return True
    if attribute in ("framing", "angle"):
        return getattr(shown.layout, attribute) in wanted
    if attribute in _OF_LAYOUT:
        return person.layout.skeleton is not None or getattr(person.layout, attribute) in wanted
    if attribute == "finish":
        return bool(set(shown.finish) & set(wanted))
    if attribute == "prop":
        return bool({person.prop, person.second_prop} & set(wanted))
    if attribute == "place" and shown.place not in wanted:
        return False
    value = value_in(shown if attribute in OF_PICTURE else person, BY_NAME[attribute])
    return value.startswith("#") or bool(set(value.split("+")) & set(wanted))
