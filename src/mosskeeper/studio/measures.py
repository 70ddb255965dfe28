"""Measures of takes: how well each obeyed its cues, which reference won, and its drift from the anchors.

Measured once, and anew where the reader changes; drift also where the anchors do.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ARRAY, Integer, any_, literal, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.continuity.drift import Drift
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import role
from mosskeeper.core.roles.match import match, match_inside
from mosskeeper.core.roles.role import CueComparison
from mosskeeper.core.roles.winners import winners
from mosskeeper.studio import pictures, readings, takes
from mosskeeper.studio.models import Anchor, StoredMeasures, Take

_FORMAT = "3"


@dataclass(frozen=True, slots=True)
class Obeyed:
    """score : 0…100, None where it cannot be told. meaning : of the score."""

    score: float | None
    meaning: str


@dataclass(frozen=True, slots=True)
class TakeMeasures:
    """matches : one for each cue of the recipe, None for one that was off. won : what → place of the cue it came from.
    drift : of the subject from its anchors; None where that cannot be told. untold : why, where there is something to say.
    before : the drift of the picture on which the anchor's face was put; None of other takes.
    """

    cues: tuple[Cue, ...]
    matches: tuple[Obeyed | None, ...]
    won: dict[str, int]
    drift: Drift | None
    untold: str = ""
    before: Drift | None = None

    def told(self) -> list[str]:
        """Which reference won, in words: "hair from Market study"."""
        return [f"{what} from {self.cues[place].name or self.cues[place].role}" for what, place in self.won.items()]

    def match_of(self, cue: Cue) -> Obeyed | None:
        """What was measured of the same influence: of a cue with the same role and source, whatever its weight."""
        for own, found in zip(self.cues, self.matches, strict=True):
            if (own.role, own.picture, own.skeleton) == (cue.role, cue.picture, cue.skeleton):
                return found
        return None


def of_take(session: Session, take: Take) -> TakeMeasures:
    """The measures of a take, made where they are missing: for workers."""
    return _told(session, take, session.get(StoredMeasures, take.id), _anchors(session, take.shot.character_id))


def unmeasured(session: Session, limit: int) -> list[int]:
    """Takes that were not measured by the present reader, those that are kept first, then the newest."""
    query = select(Take.id).outerjoin(StoredMeasures, StoredMeasures.take_id == Take.id)
    query = query.where((StoredMeasures.take_id.is_(None)) | (StoredMeasures.version != _version()), ~Take.put_aside)
    return list(session.scalars(query.order_by(Take.kept.desc(), Take.id.desc()).limit(limit)))


def known(session: Session, made: Sequence[Take]) -> dict[int, TakeMeasures]:
    """The measures of several takes, as far as they were made already, by the take's id; nothing is measured here.

    A drift from anchors that have changed since is left out: a worker measures it anew.
    """
    by_id = {take.id: take for take in made}
    rows = session.scalars(select(StoredMeasures).where(StoredMeasures.take_id.in_(by_id), StoredMeasures.version == _version()))
    who = {take.shot.character_id for take in made if take.shot.character_id is not None}
    anchors = anchors_of(session, who)
    out = {}
    for row in rows:
        take = by_id[row.take_id]
        against = anchors.get(take.shot.character_id or 0, [])
        out[take.id] = _unpacked(takes.recipe_of(take), row.body, row.body.get("anchors") == against)
    return out


def anchors_of(session: Session, character_ids: Collection[int]) -> dict[int, list[str]]:
    """The anchors of several characters, in order."""
    out: dict[int, list[str]] = {}
    query = select(Anchor.character_id, Anchor.picture_sha256).where(Anchor.character_id.in_(character_ids), Anchor.removed_at.is_(None))
    for character_id, sha256 in session.execute(query.order_by(Anchor.picture_sha256)):
        out.setdefault(character_id, []).append(sha256)
    return out


def _unpacked(recipe: Recipe, body: dict[str, Any], drift_holds: bool = True) -> TakeMeasures:
    matches = tuple(Obeyed(m["score"], m["meaning"]) if m else None for m in body["matches"])
    drift, before = (_read_drift(body.get(name)) if drift_holds else None for name in ("drift", "before"))
    return TakeMeasures(tuple(recipe.cues), matches, dict(body["won"]), drift, body.get("untold", "") if drift_holds else "", before)


def _read_drift(told: dict[str, Any] | None) -> Drift | None:
    return Drift(told["distance"], told["parts"], tuple(told["unseen"])) if told else None


def _stored_drift(found: Drift | None) -> dict[str, Any] | None:
    return None if found is None else {"distance": found.distance, "parts": dict(found.parts), "unseen": list(found.unseen)}


def drifts(session: Session, anchors_of: Mapping[int, list[str]]) -> dict[int, float]:
    """The drift of many takes, as far as it is known against these anchors, by the take's id.

    anchors_of : take → the anchors of its character, in order.
    """
    wanted = literal(list(anchors_of), ARRAY(Integer))  # one parameter, however many takes
    distance, anchors = StoredMeasures.body["drift"]["distance"].as_float(), StoredMeasures.body["anchors"]
    rows = session.execute(
        select(StoredMeasures.take_id, distance, anchors).where(
            StoredMeasures.take_id == any_(wanted), StoredMeasures.version == _version()
        )
    )
    return {take_id: value for take_id, value, against in rows if value is not None and against == anchors_of[take_id]}


def _told(session: Session, take: Take, row: StoredMeasures | None, anchors: list[str]) -> TakeMeasures:
    """What a row holds, after measuring what is missing in it."""
    recipe = takes.recipe_of(take)
    body = row.body if row is not None and row.version == _version() else _matched(session, take, recipe)
    if body.get("anchors") != anchors:
        body = {**body, "anchors": anchors, **_drifted(session, take, recipe, anchors)}
    if row is None or body is not row.body:
        values = {"version": _version(), "body": body}
        statement = insert(StoredMeasures).values(take_id=take.id, **values)
        session.execute(statement.on_conflict_do_update(index_elements=["take_id"], set_=values))
    return _unpacked(recipe, body)


def _version() -> str:
    return f"{readings.version_now()}.{_FORMAT}"


def _anchors(session: Session, character_id: int | None) -> list[str]:
    return [] if character_id is None else anchors_of(session, [character_id]).get(character_id, [])


def _drifted(session: Session, take: Take, recipe: Recipe, anchors: list[str]) -> dict[str, Any]:
    found, why = readings.drift_of(session, take.picture_sha256, anchors)
    told = {"drift": _stored_drift(found), "untold": why}
    if recipe.source is None or recipe.source.face is None:
        return told
    return told | {"before": _stored_drift(readings.drift_of(session, recipe.source.picture, anchors)[0])}


def _matched(session: Session, take: Take, recipe: Recipe) -> dict[str, Any]:
    """Cues that are on are measured even at weight 0: that is what a sweep of the weight begins with."""
    own = readings.of_picture(session, take.picture_sha256)
    on = [cue for cue in recipe.cues if cue.on]
    sources = {cue.picture: readings.of_picture(session, cue.picture) for cue in on if cue.picture is not None}
    image = pictures.pixels(session, take.picture_sha256) if on else None
    found: list[dict[str, Any] | None] = []
    for cue in recipe.cues:
        if not cue.on or image is None:
            found.append(None)
            continue
        source, reading = (pictures.pixels(session, cue.picture), sources[cue.picture]) if cue.picture is not None else (image, own)
        compared = CueComparison(source, reading, image, own, readings.skeleton_of(cue))
        if cue.area is None or not role(cue.role).confinable:
            told = match(cue.role, compared)
        else:
            told = match_inside(pictures.pixels(session, cue.area), cue.role, compared)
        found.append({"score": told.score, "meaning": told.meaning})
    return {"matches": found, "won": winners(recipe.cues, own, sources)}
