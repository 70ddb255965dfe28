"""Drafts: the recipe on a shot's light table, and the one way in which it is edited.

An edit is a function of the recipe that stands on the table when it arrives, carried out under the shot's lock: what was made
on an older draft is merged, and of two edits of one thing neither is lost. Every draft stays; undo walks along their steps.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import ValidationError
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, aliased

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.merge import Clash, merge
from mosskeeper.core.recipe import LABELS, Recipe, explain, read_recipe
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Draft, Shot

_TYPING = timedelta(seconds=4)
_WALKED = "undo"  # stands in `things` of a draft that undo or redo brought back
_LISTS = ("styles", "held")  # of words, of which each is an act of its own


def of_shot(shot: Shot) -> Recipe:
    return read_recipe(shot.draft)


def numbered(session: Session, shot_id: int, number: int) -> Recipe | None:
    """The draft of a number, with the given words of today; None where there is none."""
    row = session.get(Draft, (shot_id, number))
    shot = session.get(Shot, shot_id)
    return None if row is None or shot is None else _with_given(row.body, shot)


def edit(session: Session, shot_id: int, change: Callable[[Recipe], Recipe], page: str = "", alone: bool = False) -> Shot:
    """Changes the recipe on the table.

    Parameters
    ----------
    page : on which it was edited: what one page edits within seconds is one step.
    alone : a step of its own, however soon it comes after another: strokes are no typing.

    Raises
    ------
    ArtistError
        where the changed recipe cannot be used.
    """
    shot = locked(session, Shot, shot_id, "This shot does not exist.")
    before = of_shot(shot)
    after = _valid(change(before).model_copy(update={"given": before.given}))
    if after != before:
        _stand(session, shot, before, after, page, alone)
    return shot


def save(session: Session, shot_id: int, base: Recipe, mine: Recipe, page: str = "") -> tuple[Shot, tuple[Clash, ...]]:
    """Merges what was changed from `base` to `mine` into the recipe on the table.

    What somebody else changed meanwhile, too, clashes and is left as they have it; the rest is saved. What this very page
    changed last never clashes: its later edit is what the artist means.
    """
    clashes: tuple[Clash, ...] = ()

    def change(theirs: Recipe) -> Recipe:
        nonlocal clashes
        merged = merge(_as_last_seen(session, shot_id, base, mine, theirs, page), mine, theirs)
        clashes = merged.clashes
        return merged.recipe

    return edit(session, shot_id, change, page), clashes


def _as_last_seen(session: Session, shot_id: int, base: Recipe, mine: Recipe, theirs: Recipe, page: str) -> Recipe:
    """`base` with what is edited again by the page that was the last to change it as it stands now: an answer that got lost is
    no other artist.
    """
    if not page or base == theirs:
        return base
    rows = session.execute(select(Draft.page, Draft.things).where(Draft.shot_id == shot_id).order_by(Draft.number.desc()).limit(200))
    last: dict[str, str] = {}
    for who, things in rows:
        for thing in things:
            last.setdefault(thing, who)
    own = {thing for thing in _things(base, theirs) & _things(base, mine) if last.get(thing) == page}
    update: dict[str, Any] = {name: getattr(theirs, name) for name in Recipe.model_fields if name in own}
    now = {cue.id: cue for cue in theirs.cues}
    update["cues"] = [
        cue.model_copy(update={name: getattr(now[cue.id], name) for name in type(cue).model_fields if f"cue {cue.id} {name}" in own})
        if cue.id in now
        else cue
        for cue in base.cues
    ]
    return base.model_copy(update=update)


def walk(session: Session, shot_id: int, by: int, page: str = "") -> Shot:
    """Undoes (by −1) or redoes (by 1) a step; at either end nothing changes."""
    shot = locked(session, Shot, shot_id, "This shot does not exist.")
    here = session.get_one(Draft, (shot_id, shot.revision))
    step = here.after if by < 0 else _next_step(session, here)
    if step is not None:
        to = _end_of(session, shot_id, step)
        _put(session, shot, _with_given(to.body, shot), to.step, to.after, page, [_WALKED])
    return shot


def back_to(session: Session, shot_id: int, number: int) -> Shot:
    """Puts an earlier draft back on the table, as a new step of the history."""
    earlier = numbered(session, shot_id, number)
    if earlier is None:
        raise NotFound("This step of the history does not exist.")
    return edit(session, shot_id, lambda _: earlier)


def can_walk(session: Session, shot: Shot) -> tuple[str, str]:
    """What undo would take back and what redo would bring again, in words; empty where there is nothing."""
    here = session.get_one(Draft, (shot.id, shot.revision))
    further = _next_step(session, here)
    back = _acts(session, shot.id, here.step) if here.after is not None else ""
    return back, _acts(session, shot.id, further) if further is not None else ""


def _acts(session: Session, shot_id: int, step: int) -> str:
    """What was edited in a step."""
    query = select(Draft.things).where(Draft.shot_id == shot_id, Draft.step == step).order_by(Draft.number)
    done = [thing for things in session.scalars(query) for thing in things if thing != _WALKED]
    words = [_said(thing) for thing in dict.fromkeys(done)]
    return ", ".join(dict.fromkeys(words)) or "an edit"


def _said(thing: str) -> str:
    """A thing of `_things` in the artist's language."""
    name = thing.split()[-1] if thing.startswith("cue ") else thing.split()[0]
    of_cue = thing.startswith("cue ") and len(thing.split()) == 3
    label = LABELS[name].lower() if name in LABELS else "a cue"
    return f"{label} of a cue" if of_cue else label


def steps(session: Session, shot_id: int, limit: int = 200) -> list[Draft]:
    """The last draft of each step that was edited, the newest first."""
    ends = select(func.max(Draft.number)).where(Draft.shot_id == shot_id).group_by(Draft.step)
    query = select(Draft).where(Draft.shot_id == shot_id, Draft.number.in_(ends)).order_by(Draft.step.desc()).limit(limit)
    return list(session.scalars(query))


def first(session: Session, shot: Shot) -> None:
    """Begins the history of a new shot."""
    shot.revision = 1
    session.add(Draft(shot_id=shot.id, number=1, step=1, after=None, page="", things=[], body=shot.draft))
    session.flush()


def thin_out(session: Session, older: timedelta) -> None:
    """Removes drafts inside of long past steps: those that nobody could walk to."""
    later = aliased(Draft)
    goes_on = select(later.number).where(later.shot_id == Draft.shot_id, later.step == Draft.step, later.number > Draft.number).exists()
    session.execute(delete(Draft).where(Draft.created_at < datetime.now(UTC) - older, goes_on))


def _valid(recipe: Recipe) -> Recipe:
    try:
        return Recipe.model_validate(recipe.model_dump())
    except ValidationError as error:
        field, sentence = explain(error)[0]
        raise ArtistError(sentence, field) from None


def _stand(session: Session, shot: Shot, before: Recipe, after: Recipe, page: str, alone: bool = False) -> None:
    """Puts an edited recipe on the table."""
    here, things = session.get_one(Draft, (shot.id, shot.revision)), sorted(_things(before, after))
    last = session.scalar(select(func.max(Draft.step)).where(Draft.shot_id == shot.id)) or here.step
    goes_on = not alone and here.step == last and here.page == page and here.things == things and _recent(here)
    step, comes_after = (here.step, here.after) if goes_on else (last + 1, here.step)
    _put(session, shot, after, step, comes_after, page, things)


def _put(session: Session, shot: Shot, recipe: Recipe, step: int, after: int | None, page: str, things: list[str]) -> None:
    shot.draft = recipe.model_dump()
    shot.revision += 1
    session.add(
        Draft(
            shot_id=shot.id,
            number=shot.revision,
            step=step,
            after=after,
            page=page,
            things=things,
            body=shot.draft,
            created_at=datetime.now(UTC),
        )
    )
    session.flush()


def _recent(draft: Draft) -> bool:
    return datetime.now(UTC) - draft.created_at < _TYPING


def _next_step(session: Session, here: Draft) -> int | None:
    """The step to which redo leads: the latest that came after this one."""
    return session.scalar(select(func.max(Draft.step)).where(Draft.shot_id == here.shot_id, Draft.after == here.step))


def _end_of(session: Session, shot_id: int, step: int) -> Draft:
    query = select(Draft).where(Draft.shot_id == shot_id, Draft.step == step).order_by(Draft.number.desc()).limit(1)
    return session.scalars(query).one()


def _with_given(body: dict[str, Any], shot: Shot) -> Recipe:
    """A recipe with the words of the cast as they are now: they belong to the shot, not to an edit."""
    return read_recipe(body).model_copy(update={"given": shot.draft["given"]})


def _things(old: Recipe, new: Recipe) -> set[str]:
    """What differs between two recipes: fields, of lists of words which, and of cues which and what of it."""
    plain = (name for name in Recipe.model_fields if name not in ("cues", "given", *_LISTS))
    changed = {name for name in plain if getattr(old, name) != getattr(new, name)}
    changed |= {f"{name} {words}" for name in _LISTS for words in set(getattr(old, name)) ^ set(getattr(new, name))}
    was, now = {cue.id: cue for cue in old.cues}, {cue.id: cue for cue in new.cues}
    changed |= {f"cue {cue}" for cue in was.keys() ^ now.keys()}
    for cue in was.keys() & now.keys():
        changed |= {f"cue {cue} {name}" for name in type(now[cue]).model_fields if getattr(was[cue], name) != getattr(now[cue], name)}
    return changed
