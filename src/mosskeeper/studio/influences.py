"""What each region of a take decided: found by a worker, kept as a map, looked at by pages."""

from __future__ import annotations

from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core.continuity.drift import drift, not_measured
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.mending.masks import Mask, dilated
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.difference import drawn
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.reading.reading import FigureRead
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Region
from mosskeeper.core.regions.words import own_words
from mosskeeper.core.roles.match import match_inside
from mosskeeper.core.roles.role import CueComparison
from mosskeeper.core.stack import Mend
from mosskeeper.core.takes.influence import Influence, influence, told
from mosskeeper.engines import BUILT_IN
from mosskeeper.studio import masks, measures, pictures, readings, stacks, takes, working
from mosskeeper.studio.models import Character, Take

_WORTH = 0.005  # of what a region changed, from which what bled is worth a mend
_WHOLE = 5  # px about what bled, so that the mend takes its rim along
_OPEN = 0.5
_STANDS = 0.35  # of a figure that lies in a region, from which it is the one of that region


def key_of(take_id: int, region: int) -> str:
    return f"influence:{take_id}:{region}"


def check(session: Session, take_id: int, region: int) -> None:
    """Raises NotFound where the take has no such region, ArtistError where it was made by another engine."""
    recipe = takes.recipe_of(takes.find(session, take_id))
    if region >= len(recipe.regions):
        raise NotFound("This take has no such region.")
    if recipe.engine not in BUILT_IN:
        raise ArtistError("What a region did is known only of takes that the built-in engines made.", "regions")


def made(session: Session, take_id: int, region: int) -> tuple[bytes, dict[str, Any]]:
    """The map of a region's influence as PNG, and what is told of it: for workers, since it draws and reads."""
    check(session, take_id, region)
    take = takes.find(session, take_id)
    recipe = takes.recipe_of(take)
    pixels = working.cue_pixels(session, recipe)
    found = influence(recipe, take.seed, region, pixels, readings.known_of_recipe(session, recipe), BUILT_IN[recipe.engine].make)
    letter, own = chr(65 + region), recipe.regions[region]
    anchors = _anchors(session, take, own)
    figure = _figure_of(session, take, own)
    says = [
        *told(found, letter),
        *_obeyed(figure, own, letter),
        *_matched(session, take, own),
        *_drifted(session, figure, own, letter, anchors),
    ]
    mask = masks.store_mask(session, dilated(found.out, 2 * _WHOLE + 1)) if found.bled >= _WORTH else ""
    return encode_png(drawn(found.map)), found.to_json() | {"told": says, "out": mask, "anchors": anchors, "lies": _lies(found)}


def holds(session: Session, take_id: int, region: int, facts: dict[str, Any]) -> bool:
    """Whether what was found still holds: against other anchors the drift is another."""
    take = takes.find(session, take_id)
    own = takes.recipe_of(take).regions
    return region < len(own) and bool(facts.get("anchors") == _anchors(session, take, own[region]))


def mend(session: Session, take_id: int, region: int, facts: dict[str, Any], page: str = "") -> None:
    """Begins a mend over what a region's words changed outside of it: there should stand what stood there without them.

    Raises ArtistError where nothing bled.
    """
    if not facts.get("out"):
        raise ArtistError("Nothing of this region bled: there is nothing to mend.", "regions")
    take = takes.find(session, take_id)
    recipe = takes.recipe_of(take)
    victim = facts.get("lies")
    words = recipe.regions[victim].prompt if isinstance(victim, int) and victim < len(recipe.regions) else ""
    row = stacks.opened(session, take.shot_id, take.picture_sha256)
    size = stacks.stack_of(session, row).size
    bled = masks.nearest_mask(session, facts["out"], size)
    told = [f"what {chr(65 + region)}’s words changed outside of it"]
    stacks.add(session, row.id, Mend(id="new", mask=masks.store_mask(session, bled), words=words, told=told), page)


def _lies(found: Influence) -> int | None:
    """The region on whose people most of what bled lies; None: on the place."""
    onto = dict[int, float]()
    for one in found.attributes:
        for n, share in one.into.items():
            onto[n] = onto.get(n, 0.0) + share
    return max(onto, key=lambda n: onto[n]) if onto else None


def _matched(session: Session, take: Take, region: Region) -> list[str]:
    """How well the person of a region obeys each of its references."""
    on = [cue for cue in region.cues if cue.acts and cue.picture is not None]
    if not on:
        return []
    image, own, out = pictures.pixels(session, take.picture_sha256), readings.of_picture(session, take.picture_sha256), list[str]()
    mask = pictures.pixels(session, region.mask)
    for cue in on:
        assert cue.picture is not None
        source = readings.of_picture(session, cue.picture)
        compared = CueComparison(pictures.pixels(session, cue.picture), source, image, own, readings.skeleton_of(cue))
        found = match_inside(mask, cue.role, compared)
        score = "cannot be told" if found.score is None else f"{found.score:.0f} of 100"
        out.append(f"{cue.role.capitalize()} from {cue.name or 'a picture'}: {score} ({found.meaning}).")
    return out


def _anchors(session: Session, take: Take, region: Region) -> list[str]:
    """The anchors of whom a region names, in order."""
    if not region.name:
        return []
    query = select(Character.id).where(
        Character.story_id == take.shot.story_id, Character.name == region.name, Character.removed_at.is_(None)
    )
    who = session.scalar(query.order_by(Character.id).limit(1))
    return [] if who is None else measures.anchors_of(session, [who]).get(who, [])


def _drifted(session: Session, figure: FigureRead | None, region: Region, letter: str, anchors: list[str]) -> list[str]:
    """How far the person of a region is from their own anchors."""
    if not anchors:
        return []
    read = [readings.of_picture(session, anchor) for anchor in anchors]
    if why := not_measured(read):
        return [f"{letter}: {why}."]
    found = None if figure is None else drift(figure, [anchor.main for anchor in read])
    if found is None:
        return [f"How near {letter} is to {region.name} cannot be told: no face was read there."]
    strayed = f": {', '.join(found.changed)} strayed" if found.changed else ""
    told = f"{found.distance:.2f}{', another person' if found.other_person else strayed}"
    return [f"{letter}’s drift from the anchors of {region.name}: {told}."]


def _obeyed(figure: FigureRead | None, region: Region, letter: str) -> list[str]:
    """How much of what a region's words name the reader sees in its person."""
    wanted = own_words(region.prompt).wanted
    read = {} if figure is None else {name: max(values, key=values.__getitem__) for name, values in figure.attributes.items() if values}
    judged = [name for name in wanted if name in read]
    if not judged:
        return []
    missing = [name for name in judged if read[name] not in wanted[name]]
    strays = f"; not {', '.join(missing)}" if missing else ""
    return [f"The reader sees {len(judged) - len(missing)} of {len(judged)} things that {letter}’s words name{strays}."]


def _figure_of(session: Session, take: Take, region: Region) -> FigureRead | None:
    """Whoever the reader sees in a region; None where nobody is."""
    figures = readings.of_picture(session, take.picture_sha256).figures
    shares = [_share_in(figure, grey(pictures.pixels(session, region.mask)) > _OPEN) for figure in figures]
    best = int(np.argmax(shares)) if shares else 0
    return figures[best] if shares and shares[best] >= _STANDS else None


def _share_in(figure: FigureRead, region: Mask) -> float:
    """0…1: how much of a figure lies in a region, both (h, w) of any size."""
    there = nearest(region.astype(np.uint8), figure.mask.shape[::-1]) > 0
    return float((figure.mask & there).sum() / max(int(figure.mask.sum()), 1))
