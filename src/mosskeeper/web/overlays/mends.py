"""The mends overlay: what is chosen on the picture, what should stand there, and the stack of what was mended."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response
from pydantic import StringConstraints
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.mending.mask_acts import ACTS, Act, Way
from mosskeeper.core.mending.masks import hardened
from mosskeeper.core.pictures.decode import MAX_BYTES, decode
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.stack import Mend
from mosskeeper.core.words.understand import understand
from mosskeeper.formats.stack_file import stack_inside, with_stack
from mosskeeper.queue import mending
from mosskeeper.queue.app import submit
from mosskeeper.queue.deferring import want_map, want_measures, want_readings
from mosskeeper.studio import (
    acts,
    carrying,
    choosing,
    drafts,
    engines,
    estimates,
    library,
    masks,
    mends,
    offers,
    pictures,
    runs,
    shots,
    stacks,
    takes,
)
from mosskeeper.studio.acts import Moved
from mosskeeper.studio.canvases import FIGURES, GAPS, MOST_JOINED, Joining
from mosskeeper.studio.mends import StackState
from mosskeeper.studio.models import Shot, Variant
from mosskeeper.studio.reference_edits import edited_among, read_edit
from mosskeeper.web.deps import After, Db, Fields, Id, Look, NewId, PageId, Queue, Text, Upload
from mosskeeper.web.references import lends
from mosskeeper.web.render import fragment, page
from mosskeeper.web.table import view as table

router = APIRouter()
Base = Annotated[str, Query(pattern=r"^[0-9a-f]{64}$")]
MendId = Annotated[str, Query(pattern=r"^[a-z0-9]{0,12}$")]
TakeId = Annotated[int | None, Query(ge=0, lt=2**31)]
_Part = Annotated[str, StringConstraints(pattern=r"^(all|figures|chosen|kept .{1,80})$")]
_TOLD = ("words", "negative", "strength", "feather", "outlines", "count")  # fields of a mend that the page sends


@router.get("/shots/{shot_id}/mends")
def overlay(
    request: Request,
    db: Look,
    shot_id: Id,
    take: TakeId = None,
    base: Annotated[str, Query(pattern=r"^([0-9a-f]{64})?$")] = "",
    mend: MendId = "",
) -> Response:
    made = table.gather(db, shot_id, take)
    own = base or (made.shown.picture_sha256 if made.shown is not None else "")
    made.mends = stacks.count(db, shot_id, own) if own else 0
    context = table.context(made) | {"overlay": "mends", "base": own, "acts": ACTS, "kept_of": stacks.kept_names(db, shot_id)}
    if not own:
        return page(request, "overlays/mends_none.html", context)
    return page(request, "overlays/mends.html", context | {"state": _state(db, made.shot, own, mend)})


@router.get("/shots/{shot_id}/mends.json")
def state(db: Look, shot_id: Id, base: Base, mend: MendId = "") -> JSONResponse:
    """How the mends on a picture stand: for a page that acted, waited, or watches."""
    return JSONResponse(_state(db, shots.find(db, shot_id), base, mend))


@router.get("/shots/{shot_id}/choices.json")
def choices(db: Look, shot_id: Id, picture: Base) -> JSONResponse:
    """What can be chosen by name in a picture; empty until a worker has found it."""
    shot = shots.find(db, shot_id)
    found = masks.choices_on(db, shot, picture)
    quick = [{"key": q.key, "name": q.name} for q in offers.quick_offers(db, shot, picture)]
    return JSONResponse({"there": found is not None, "quick": quick, **({} if found is None else found.to_json())})


@router.post("/shots/{shot_id}/mends")
def add(db: Db, page_id: PageId, shot_id: Id, base: Base, mend: NewId = "") -> JSONResponse:
    """Lays one more mend on a picture, with nothing chosen yet."""
    row = stacks.opened(db, shot_id, base)
    return _acted(db, row.id, lambda: stacks.add(db, row.id, page=page_id, name=mend), mend or None)


@router.post("/shots/{shot_id}/mends/pictures")
def bring(db: Db, queue: Queue, shot_id: Id, picture: Upload) -> JSONResponse:
    """Takes in a picture to be mended; one that carries mends comes with them."""
    name, shot = library.name_of_file(picture.filename), shots.find(db, shot_id)
    try:
        with db.begin_nested():
            data = picture.file.read(MAX_BYTES + 1)
            inside = stack_inside(data)
            if inside is not None:
                base = carrying.restored(db, shot_id, inside)
            else:
                base = pictures.upload(db, data, name).sha256
                library.add(db, base, "upload", name, shot.story_id)
            want_readings(db, queue, [base])
    except ArtistError as error:
        return JSONResponse({"problem": f"{name}: {error.sentence}"}, 422)
    return JSONResponse({"base": base})


@router.post("/stacks/{stack_id}/mends/{mend}")
def edit(db: Db, page_id: PageId, stack_id: Id, mend: str, form: Fields) -> JSONResponse:
    """Changes what a mend is told: words, without, strength and so on; what is not sent stays, what is sent empty is emptied."""
    update: dict[str, Any] = {name: str(form[name]) for name in _TOLD if name in form}
    if "wider" in form:
        update["wider"] = str(form["wider"]).split()
    if "window" in form:
        update["window"] = str(form["window"]).split() or None
    return _acted(db, stack_id, lambda: masks.tell(db, stack_id, mend, update, page_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/mask")
def keep_mask(
    db: Db,
    page_id: PageId,
    stack_id: Id,
    mend: str,
    mask: Upload,
    base: Annotated[str, Query(max_length=64)] = "",
    over: Annotated[bool, Query()] = False,
) -> JSONResponse:
    """Keeps what the hand opened. Another tab's mask is not painted over: 409, and both are there to choose from."""

    def keep() -> None:
        opened = hardened(np.asarray(grey(decode(mask.file.read(MAX_BYTES + 1)).rgb_u8), np.float32))
        masks.keep_mask(db, stack_id, mend, opened, base, page_id, over)

    return _acted(db, stack_id, keep, mend)


@router.post("/stacks/{stack_id}/mends/{mend}/act")
def act(
    db: Db,
    page_id: PageId,
    stack_id: Id,
    mend: str,
    act: Act,
    px: Annotated[float, Query(ge=0, le=200)] = 6,
) -> JSONResponse:
    """Grows, shrinks, smooths, fills or turns over what is open."""
    return _acted(db, stack_id, lambda: masks.act_on_mask(db, stack_id, mend, act, px, page_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/choose")
def choose(
    db: Db, page_id: PageId, stack_id: Id, mend: str, key: Annotated[list[str], Query(max_length=12)], way: Way = "only"
) -> JSONResponse:
    """Opens what is chosen by name."""
    return _acted(db, stack_id, lambda: masks.choose(db, stack_id, mend, key, way, page_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/kept")
def keep_choice(db: Db, page_id: PageId, stack_id: Id, mend: str, name: Text = "") -> JSONResponse:
    """Keeps what is open by a name."""
    return _acted(db, stack_id, lambda: masks.keep_choice(db, stack_id, mend, name, page_id), mend)


@router.post("/shots/{shot_id}/mends/empty")
def begin_empty(db: Db, queue: Queue, shot_id: Id) -> JSONResponse:
    """Begins an empty canvas: open country, on which part after part is described. A worker draws it."""
    shots.find(db, shot_id)
    mending.want_canvas(db, queue, shot_id)
    return JSONResponse({"waits": True}, 202)


@router.post("/shots/{shot_id}/mends/join")
def join(
    db: Db,
    queue: Queue,
    shot_id: Id,
    first: Base,
    other: Annotated[list[Base], Query(min_length=1, max_length=MOST_JOINED - 1)],
    side: Literal["right", "left", "below", "above"] = "right",
    gap: Annotated[int, Query(ge=GAPS[0], le=GAPS[1])] = 96,
    tones: Annotated[float, Query(ge=0, le=1)] = 0.0,
    stays: _Part = "all",
    theirs: Annotated[list[_Part] | None, Query(max_length=MOST_JOINED - 1)] = None,
    mend: MendId = "",
) -> JSONResponse:
    """Lays pictures on one canvas; a worker lets what is between them grow.

    stays, theirs : what of this one and of each other must be seen: "all", "figures", "chosen", or "kept NAME".
    """
    shots.find(db, shot_id)
    for sha256 in (first, *other):
        pictures.find(db, sha256)
    asked = [stays, *(theirs or []), *["all"] * len(other)]
    try:
        parts = [_stays(db, shot_id, sha256, part, mend) for sha256, part in zip((first, *other), asked, strict=False)]
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    mending.want_canvas(db, queue, shot_id, Joining(first, other, side, gap, tones, parts))
    return JSONResponse({"waits": True}, 202)


def _stays(db: Session, shot_id: int, picture: str, part: str, mend: str) -> str:
    """What of a picture must be seen when it is joined: who is in it, what its open mend hatches, or what was kept by a name.

    Raises ArtistError where nothing is hatched, or kept by that name.
    """
    if part == "figures":
        return FIGURES
    if part == "all":
        return ""
    stack = stacks.seen(db, shot_id, picture)
    own = stack.mend(mend) if part == "chosen" else next((one for one in stack.kept if f"kept {one.name}" == part), None)
    if own is None or own.mask is None:
        what = "Nothing is hatched yet" if part == "chosen" else f"“{part.removeprefix('kept ')}” is not kept of this picture any more"
        raise ArtistError(f"{what}: say again what of it stays.", "mends")
    return own.mask


@router.post("/stacks/{stack_id}/mends/{mend}/alike")
def alike(
    db: Db,
    page_id: PageId,
    stack_id: Id,
    mend: str,
    x: Annotated[int, Query(ge=0, lt=4096)],
    y: Annotated[int, Query(ge=0, lt=4096)],
    near: Annotated[float, Query(ge=1, le=60)] = 12,
    way: Way = "only",
) -> JSONResponse:
    """Opens what hangs together with a place and is near to its colour."""
    return _acted(db, stack_id, lambda: masks.choose_alike(db, stack_id, mend, (x, y), near, way, page_id), mend)


@router.post("/shots/{shot_id}/mends/quick")
def quick(
    db: Db, queue: Queue, page_id: PageId, shot_id: Id, base: Base, key: Annotated[str, Query(max_length=40)], mend: NewId = ""
) -> JSONResponse:
    """A mend that is offered by what is seen: chosen, worded and run by one press."""
    row = stacks.opened(db, shot_id, base)

    def press() -> str:
        fresh = offers.quick(db, row.id, key, page_id, mend)
        _run(db, queue, row.id, fresh)
        return fresh

    return _acted(db, row.id, press, mend or None)


@router.post("/stacks/{stack_id}/mends/{mend}/run")
def run(
    db: Db,
    queue: Queue,
    after: After,
    stack_id: Id,
    mend: str,
    more: Annotated[bool, Query()] = False,
    near: Annotated[int | None, Query(ge=1, lt=2**31)] = None,
) -> JSONResponse:
    """Makes variants of a mend; `more` makes others than there are, `near` a variant to which they should be near."""

    def press() -> None:
        acts.require(db, after)
        if more:
            mends.other_seeds(db, stack_id, mend, near)
        _run(db, queue, stack_id, mend)

    return _acted(db, stack_id, press, mend)


def _run(db: Session, queue: Queue, stack_id: int, mend: str) -> None:
    shot, recipe = mends.asked(db, stack_id, mend)
    submit(db, queue, shot, recipe, (), runs.OfMend(stack_id, mend))


@router.post("/stacks/{stack_id}/variants/{variant_id}/accept")
def accept(db: Db, queue: Queue, page_id: PageId, stack_id: Id, variant_id: Id) -> JSONResponse:
    """Accepts a variant; mends above it are made anew on it."""

    def press() -> str:
        mends.accept(db, stack_id, variant_id, page_id)
        mending.redo(db, queue, stack_id)
        variant = db.get_one(Variant, variant_id)
        return variant.mend

    return _acted(db, stack_id, press)


@router.post("/stacks/{stack_id}/mends/{mend}/shown")
def show(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, shown: Annotated[bool, Query()]) -> JSONResponse:
    """Hides a mend, or shows it again; mends above it are made anew where they were not made so before."""
    return _restacked(
        db,
        queue,
        stack_id,
        mend,
        lambda: stacks.edit_mend(db, stack_id, mend, lambda one: one.model_copy(update={"shown": shown}), page_id),
    )


@router.post("/stacks/{stack_id}/mends/{mend}/order")
def order(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, by: Annotated[int, Query(ge=-24, le=24)]) -> JSONResponse:
    """Moves a mend up or down the stack."""
    return _restacked(db, queue, stack_id, mend, lambda: stacks.edit(db, stack_id, lambda stack: stack.moved(mend, by), page_id))


@router.post("/stacks/{stack_id}/mends/{mend}/off")
def take_off(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str) -> JSONResponse:
    """Takes a mend off; undo brings it back, with its variants."""

    def off() -> None:
        stacks.edit(db, stack_id, lambda stack: stack.changed(mends=[one for one in stack.mends if one.id != mend]), page_id)

    return _restacked(db, queue, stack_id, "", off)


def _restacked(db: Db, queue: Queue, stack_id: int, mend: str, change: Callable[[], object]) -> JSONResponse:
    def changed() -> None:
        change()
        mending.redo(db, queue, stack_id)

    return _acted(db, stack_id, changed, mend)


@router.post("/stacks/{stack_id}/walk")
def walk(db: Db, stack_id: Id, back: bool, mend: MendId = "") -> JSONResponse:
    """One act back, or forth again."""
    return _acted(db, stack_id, lambda: stacks.walk(db, stack_id, back), mend)


@router.post("/stacks/{stack_id}/redo")
def redo(db: Db, queue: Queue, stack_id: Id, mend: MendId = "") -> JSONResponse:
    """Makes anew what stands on another picture now, from the lowest up."""
    return _acted(db, stack_id, lambda: mending.redo(db, queue, stack_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/cues")
def add_cue(
    db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, picture: Base, role: Annotated[str, Query(max_length=20)]
) -> JSONResponse:
    """Lets a reference act in a mend."""

    def lay() -> None:
        cue = shots.new_cue(role, picture, pictures.find(db, picture).name)
        stacks.edit_mend(
            db,
            stack_id,
            mend,
            lambda one: Mend.model_validate(one.model_dump() | {"cues": [c.model_dump() for c in (*one.cues, cue)]}),
            page_id,
        )
        want_readings(db, queue, [picture])

    return _acted(db, stack_id, lay, mend)


@router.post("/stacks/{stack_id}/mends/{mend}/of-shot/{cue_id}")
def add_cue_of_shot(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, cue_id: str) -> JSONResponse:
    """Lets a cue of the shot act in a mend as it stands on the cue sheet: its pose, its board, any reference."""

    def lay() -> None:
        sheet = drafts.of_shot(shots.find(db, stacks.find(db, stack_id).shot_id)).cues
        cue = next((one for one in sheet if one.id == cue_id), None)
        if cue is None:
            raise ArtistError("This cue is not on the shot’s cue sheet any more.", "cues")
        fresh = cue.model_copy(update={"id": "", "on": True, "solo": False})
        stacks.edit_mend(
            db,
            stack_id,
            mend,
            lambda one: Mend.model_validate(one.model_dump() | {"cues": [c.model_dump() for c in (*one.cues, fresh)]}),
            page_id,
        )

    return _acted(db, stack_id, lay, mend)


@router.post("/stacks/{stack_id}/mends/{mend}/cues/{cue_id}")
def change_cue(
    db: Db, page_id: PageId, stack_id: Id, mend: str, cue_id: str, weight: Annotated[float, Query(ge=0, le=1.5)]
) -> JSONResponse:
    """Weighs a reference of a mend; at 0 it is taken off."""

    def changed(one: Mend) -> Mend:
        cues = [c.model_copy(update={"weight": weight}) if c.id == cue_id else c for c in one.cues]
        return one.model_copy(update={"cues": [c for c in cues if c.weight > 0]})

    return _acted(db, stack_id, lambda: stacks.edit_mend(db, stack_id, mend, changed, page_id, f"cue {cue_id}"), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/cues/{cue_id}/lends")
def edit_reference(db: Db, page_id: PageId, stack_id: Id, mend: str, cue_id: str, form: Fields) -> JSONResponse:
    """Changes what a reference of a mend lends: a part, the figure that is meant, a trait of that person."""

    def changed(one: Mend) -> Mend:
        return one.model_copy(update={"cues": edited_among(db, list(one.cues), cue_id, read_edit(dict(form)))})

    return _acted(db, stack_id, lambda: stacks.edit_mend(db, stack_id, mend, changed, page_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/copy")
def copy(db: Db, queue: Queue, stack_id: Id, mend: str, take: Annotated[list[int], Query(max_length=60)]) -> JSONResponse:
    """Carries a mend over to other takes: a worker finds where it belongs in each, and makes it."""

    def carry() -> None:
        mends.standing_of(db, stack_id).height(mend)
        for take_id in take:
            mending.want_copy(db, queue, stack_id, mend, take_id)

    return _acted(db, stack_id, carry, mend)


@router.post("/stacks/{stack_id}/take")
def as_take(db: Db, queue: Queue, stack_id: Id) -> Response:
    """Puts the mended picture on the shot's board."""
    made = False

    def lay() -> None:
        nonlocal made
        take, made = mends.as_take(db, stack_id)
        if made:
            want_measures(db, queue, take.id)

    try:
        acts.once(db, lay)
        take, _ = mends.as_take(db, stack_id)  # there by now
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"take": take.id, "number": take.number, "fresh": made})


@router.post("/stacks/{stack_id}/full")
def full_size(db: Db, queue: Queue, stack_id: Id) -> JSONResponse:
    """Puts what was mended back into the picture as it came, at its own size."""
    row = stacks.find(db, stack_id)
    mending.want_full_size(db, queue, row.shot_id, stack_id)
    return JSONResponse({"waits": True}, 202)


@router.get("/stacks/{stack_id}/download.png")
def download(db: Look, stack_id: Id) -> Response:
    """The mended picture as PNG with its base and all its mends inside: dropped here, it is a stack again."""
    made = mends.standing_of(db, stack_id)
    data = with_stack(pictures.png(db, made.top or made.stack.base), carrying.packed(db, made))
    return _attached(data, "image/png", f"mended-{stack_id}.png")


@router.get("/stacks/{stack_id}/download.ora")
def download_layers(db: Look, stack_id: Id) -> Response:
    """The mended picture in layers, one for each mend, as OpenRaster."""
    made = mends.standing_of(db, stack_id)
    return _attached(carrying.layered(db, made), "image/openraster", f"mended-{stack_id}.ora")


def _attached(data: bytes, kind: str, name: str) -> Response:
    return Response(data, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.post("/shots/{shot_id}/choices")
def want_choices(db: Db, queue: Queue, shot_id: Id, picture: Base) -> Response:
    """Asks what can be chosen by name in a picture: 204 where it is known, 202 where a worker looks for it now."""
    shots.find(db, shot_id)
    if choosing.known(db, picture) is not None:
        return Response(status_code=204)
    pictures.find(db, picture)
    want_map(db, queue, choosing.key_of(picture))
    return Response(status_code=202)


# -- what a page is told -----------------------------------------------------------------------------------------


def _acted(db: Db, stack_id: int, act: Callable[[], object], mend: str | None = None) -> JSONResponse:
    """Carries out an act; what cannot be done is told, and nothing is changed. mend : that stays open; None: the one that the act gives."""
    try:
        given, first = acts.once(db, act)
    except Moved as error:
        return JSONResponse({"problem": error.sentence, "moved": True}, 409)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    row = stacks.find(db, stack_id)
    state = _state(db, shots.find(db, row.shot_id), row.base_sha256, str(given or "") if mend is None else mend)
    return JSONResponse(state | {"again": not first})


def _state(db: Session, shot: Shot, base: str, mend_id: str) -> dict[str, Any]:
    made = mends.standing(db, shot.id, base)
    chosen = next((h for h in made.heights if h.mend.id == mend_id), None)
    if chosen is None and mend_id != "new":
        chosen = made.heights[-1] if made.heights else None
    mend = chosen.mend if chosen is not None else None
    last = made.heights[-1] if made.heights else None
    own = mends.variants(db, made.row, mend.id) if mend is not None else []
    run = mends.active_run(db, made.row)
    on = chosen.on if chosen is not None else made.top
    undoes, redoes = stacks.can_walk(db, made.row)
    context = {
        "shot": shot,
        "base": base,
        "made": made,
        "chosen": chosen,
        "mend": mend,
        "variants": own,
        "accepted": _accepted(made, own, mend),
        "run": run,
        "price": _price(db, chosen),
        "said": None if mend is None else understand(mend.words),
        "takes": [t for t in takes.of_shot(db, shot.id) if not t.put_aside and t.picture_sha256 != base],
        "copies": mends.copies(db, made.row, mend.id) if mend is not None and made.row is not None else [],
        "large": _too_large(db, base),
        "engine": engines.known(db, made.stack.settings.engine).title,
        "another": made.stack.settings.engine != drafts.of_shot(shot).engine,
        "pending": any(h.pending for h in made.heights),
        "lent": {} if mend is None else lends.shown(db, list(mend.cues)),
        "of_shot": [cue for cue in drafts.of_shot(shot).cues if cue.picture is not None or cue.skeleton is not None],
    }
    size = chosen.size if chosen is not None else _top_size(made)
    return {
        "stack": made.row.id if made.row is not None else 0,
        "number": made.row.number if made.row is not None else 0,
        "mend": mend.id if mend is not None else "",
        "mends": len(made.stack.mends),
        "on": on or "",
        "below": on or (last.on if last is not None and last.on else made.stack.base),
        "size": list(size),
        "kept": [one.name for one in made.stack.kept],
        "mask": (mend.mask or "") if mend is not None else "",
        "wider": list(mend.wider) if mend is not None else [0, 0, 0, 0],
        "window": list(mend.window) if mend is not None and mend.window is not None else None,
        "picture": (chosen.picture if chosen is not None and chosen.stands else on) or made.stack.base,
        "top": made.top or "",
        "undoes": undoes,
        "redoes": redoes,
        "settled": chosen is not None and chosen.stands,
        "runs": run is not None and run.active,
        "fields": {}
        if mend is None
        else {
            "words": mend.words,
            "negative": mend.negative,
            "strength": mend.strength,
            "feather": mend.feather,
            "outlines": mend.outlines,
            "count": mend.count,
        },
        "html": {name: str(fragment(f"overlays/mend_{name}.html", context)) for name in ("told", "variants", "stack", "run", "cues")},
    }


def _too_large(db: Session, base: str) -> str:
    """The size of a picture that is worked on at a smaller one; "" where it is worked on as it is."""
    picture = pictures.find(db, base)
    own = (picture.width, picture.height)
    worked = stacks.working_size(*own)
    return "" if worked == own else f"{own[0]} × {own[1]} px, worked on at {worked[0]} × {worked[1]}"


def _top_size(made: StackState) -> tuple[int, int]:
    w, h = made.stack.size
    for height in made.heights:
        if not height.passed:
            left, above, right, below = height.mend.wider
            w, h = w + left + right, h + above + below
    return w, h


def _accepted(made: StackState, own: list[Variant], mend: Mend | None) -> int | None:
    """The variant that stands in the stack."""
    if mend is None or mend.seed is None:
        return None
    picture = next((h.picture for h in made.heights if h.mend.id == mend.id), None)
    return next((v.id for v in own if v.seed == mend.seed and (picture is None or v.picture_sha256 == picture)), None)


def _price(db: Session, chosen: Any) -> Any:
    if chosen is None or chosen.recipe is None:
        return None
    try:
        return estimates.estimate(db, chosen.recipe)
    except ArtistError:
        return None
