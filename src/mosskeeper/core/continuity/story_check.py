"""What of a picture is not as its character's anchor and wardrobe have it, in words."""

from __future__ import annotations

from collections.abc import Collection

from mosskeeper.core.continuity.drift import Drift
from mosskeeper.core.reading.contents import SURE, Contents
from mosskeeper.core.traits import BY_NAME

_COMPARED = ("hair", "hair colour", "facial hair", "glasses", "mark", "freckles", "skin", "eyes")


def strays(drift: Drift | None, shown: Contents | None, anchor: Contents | None, worn: Collection[str] = ()) -> tuple[str, ...]:
    """Sentences about what strays; none where nothing does.

    Parameters
    ----------
    drift : of the picture from the anchors; None where it is not told.
    shown, anchor : what picture and lead anchor hold; traits are compared where both are sure, and one person is in the picture.
    worn : the outfits that the wardrobe asks for; empty where it asks for none that is drawn.
    """
    said = []
    if drift is not None and drift.other_person:
        said.append("reads as another person" + (f": {', '.join(drift.changed)}" if drift.changed else ""))
    own, theirs = (None if one is None else one.subject(None) for one in (shown, anchor))
    if shown is None or own is None or theirs is None or len(shown.subjects) != 1:
        return tuple(said)
    for name in _COMPARED:
        if min(own.sure.get(name, 0.0), theirs.sure.get(name, 0.0)) < SURE or own.value(name) == theirs.value(name):
            continue
        trait, now, was = BY_NAME[name], own.value(name), theirs.value(name)
        if now == trait.off:
            said.append(f"{trait.called} went" if was == "yes" else f"{was} went")
        elif was == trait.off:
            said.append(f"{trait.called} came" if now == "yes" else f"{now} came")
        else:
            said.append(f"{trait.called}: {now}, the anchor has {was}")
    if worn and own.sure.get("outfit", 0.0) >= SURE and own.value("outfit") not in worn:
        said.append(f"wears: {own.value('outfit')}, the wardrobe says {' or '.join(sorted(worn))}")
    return tuple(said)
