"""What people of an age and sex usually look like where nobody says: the odds of hair, beards and clothes."""

from __future__ import annotations

from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, MEN

Odds = dict[str, dict[str, float]]
_LONG = (
    "long straight",
    "long wavy",
    "long with fringe",
    "bun",
    "low bun",
    "crown braid",
    "braid",
    "two braids",
    "bob",
    "curls",
    "ponytail",
)
_SKIRTS = ("garden dress", "ball gown", "jumper and skirt")
_SELDOM, _HARDLY, _NEVER = 0.15, 0.02, 1e-9


def usual_of(subject: str) -> Odds:
    """Factors on the odds of attributes' values for somebody of this age and sex; 1 where none is given.

    subject : of `vocabulary.people.SUBJECTS`.
    """
    male, child, old = subject in (*MEN, "boy"), subject in CHILDREN, subject.startswith("old")
    hair = dict.fromkeys(_LONG, _HARDLY) | {"ponytail": _SELDOM, "curls": _SELDOM} if male else {"shaved": _HARDLY, "receding": _NEVER}
    if child:
        hair |= {"receding": _NEVER}
    elif old:
        hair |= {"two braids": _HARDLY, "pixie": _SELDOM, "long with fringe": _SELDOM} | ({"receding": 3.0} if male else {})
    odds: Odds = {"hair": hair, "outfit": dict.fromkeys(_SKIRTS, _HARDLY) | {"nightshirt": _SELDOM} if male else {}}
    if old:
        odds["hair colour"] = {"silver": 9.0, "white": 5.4}
    if subject not in MEN:
        odds["facial hair"] = {"beard": _NEVER, "moustache": _NEVER}
    return odds
