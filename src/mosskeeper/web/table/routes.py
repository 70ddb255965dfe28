"""The light table: one shot, its recipe, its takes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.core.cue_sheet import neutral as without_styles
from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.errors import ArtistError, BadRecipe
from mosskeeper.core.merge import Clash
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.core.recipe import Cue, Recipe, differences, read_recipe
from mosskeeper.formats.png import pictures_of, recipe_of
from mosskeeper.queue.app import submit
from mosskeeper.queue.deferring import want_readings
from mosskeeper.studio import acts, cast, drafts, holding, library, pictures, shots
from mosskeeper.studio.reference_edits import read_edit
from mosskeeper.web.deps import After, Db, Fields, Id, Look, PageId, Queue, Sha, Text, Upload
from mosskeeper.web.render import fragment, page, part, parts, wants_fragment
from mosskeeper.web.table import view as table
from mosskeeper.web.table.forms import Edited, optional_id, read_edits

router = APIRouter()


@router.get("/shots/{shot_id}")
def light_table(
    request: Request,
    db: Look,
    shot_id: Id,
    take: Annotated[int | None, Query(ge=0, lt=2**31)] = None,
    compare: str = "",
    aside: Annotated[bool, Query()] = False,
) -> Response:
    made = table.gather(db, shot_id, take, compare, aside)
    if wants_fragment(request):
        return parts(*table.view_parts(made))
    return page(request, "table/shot.html", table.context(made))


@router.get("/shots/{shot_id}/cues")
def cue_sheet(db: Look, shot_id: Id) -> Response:
    """The cue sheet as it stands: what was still being read may be known by now."""
    return parts(*table.cue_parts(table.gather(db, shot_id)))


@router.get("/shots/{shot_id}/measured")
def measured(db: Look, shot_id: Id, take: Annotated[int, Query(ge=0, lt=2**31)]) -> Response:
    """What a page that shows a take waited for: its measures."""
    return parts(*table.measured_parts(table.gather(db, shot_id, take)))


@router.get("/shots/{shot_id}/live")
def live(
    db: Look,
    shot_id: Id,
    run: Annotated[int | None, Query(ge=0, lt=2**31)] = None,
    state: str = "",
    made: Annotated[int, Query(ge=0)] = -1,
    revision: Annotated[int | None, Query(ge=0)] = None,
    overlay: Literal["", "sketch", "pose", "regions"] = "",
) -> Response:
    """What changed since a page saw its `run` in `state` with so many takes `made`, and its fields in a `revision`."""
    return parts(*table.live_parts(db, shot_id, table.Watched(run, state, made, revision), overlay))


def _edited(db: Db, shot_id: int, form: Fields) -> Edited:
    shot = shots.find(db, shot_id)
    number = str(form.get("revision", ""))
    shown = drafts.numbered(db, shot_id, int(number)) if number.isdecimal() and len(number) < 10 else None
    return read_edits(form, shown or drafts.of_shot(shot))


@router.post("/shots/{shot_id}/draft")
def save_draft(db: Db, page_id: PageId, shot_id: Id, form: Fields) -> Response:
    """Saves what was edited. Wrong values and clashes are told beside their fields, and nothing typed is touched."""
    edited = _edited(db, shot_id, form)
    if edited.mine is None:
        return _told(db, shot_id, edited.problems)
    try:
        _, clashes = drafts.save(db, shot_id, edited.base, edited.mine, page_id)
    except ArtistError as error:
        return _told(db, shot_id, {error.field: error.sentence})
    return parts(*table.saved_parts(table.gather(db, shot_id), clashes=clashes), status=409 if clashes else 200)


def _told(db: Db, shot_id: int, problems: dict[str, str], clashes: tuple[Clash, ...] = ()) -> Response:
    return parts(*table.saved_parts(table.gather(db, shot_id), problems, clashes), status=422)


@router.post("/shots/{shot_id}/undo")
def undo(db: Db, page_id: PageId, shot_id: Id) -> Response:
    return _walked(db, shot_id, -1, page_id)


@router.post("/shots/{shot_id}/redo")
def redo(db: Db, page_id: PageId, shot_id: Id) -> Response:
    return _walked(db, shot_id, 1, page_id)


def _walked(db: Db, shot_id: int, by: int, page_id: str) -> Response:
    """The page is made anew: fields that were typed in would not let go of what stands in them."""
    drafts.walk(db, shot_id, by, page_id)
    return Response(headers={"HX-Refresh": "true"})


@router.post("/shots/{shot_id}/run")
def run(
    db: Db, queue: Queue, page_id: PageId, after: After, shot_id: Id, form: Fields, neutral: Annotated[bool, Query()] = False
) -> Response:
    """Saves what was edited and runs the table; a neutral run leaves all styles out, and the table as it is.

    Where something clashes nothing is run: the artist first says which of the two is meant.
    """
    edited = _edited(db, shot_id, form)
    if edited.mine is None:
        return _told(db, shot_id, edited.problems)
    try:
        shot, clashes = drafts.save(db, shot_id, edited.base, edited.mine, page_id)
        if clashes:
            return parts(*table.saved_parts(table.gather(db, shot_id), clashes=clashes), status=409)
        acts.require(db, after)
        recipe = soloed(drafts.of_shot(shot))
        with db.begin_nested():
            submit(db, queue, shot, without_styles(recipe) if neutral else recipe)
    except ArtistError as error:
        return _told(db, shot_id, {error.field: error.sentence})
    made = table.gather(db, shot_id)
    return parts(*table.saved_parts(made), *table.run_parts(made))


@router.post("/shots/{shot_id}/recast")
def recast(request: Request, db: Db, page_id: PageId, shot_id: Id, form: Fields) -> Response:
    """Changes scene, character or outfit; the page is made anew since the anchor and the given words change."""
    edited = _edited(db, shot_id, form)
    if edited.mine is not None:
        drafts.save(db, shot_id, edited.base, edited.mine, page_id)
    shots.recast(db, shot_id, optional_id(form, "scene"), optional_id(form, "character"), optional_id(form, "outfit"))
    return Response(headers={"HX-Redirect": f"/shots/{shot_id}"}) if wants_fragment(request) else RedirectResponse(f"/shots/{shot_id}", 303)


@router.post("/shots/{shot_id}/pictures")
def drop_picture(db: Db, queue: Queue, page_id: PageId, shot_id: Id, picture: Upload, as_cue: Annotated[bool, Query()] = False) -> Response:
    """A picture was dropped, pasted or chosen. One that carries a recipe is asked about first; any other becomes a cue."""
    data, name = picture.file.read(MAX_BYTES + 1), library.name_of_file(picture.filename)
    shot = shots.find(db, shot_id)
    carried: Recipe | None = None
    trouble = ""
    if not as_cue:
        try:
            carried = recipe_of(data)
        except BadRecipe as error:
            trouble = error.sentence
    try:
        with db.begin_nested():
            stored = pictures.upload(db, data, name)
            library.add(db, stored.sha256, "upload", name, shot.story_id)
            pictures.take_in_boards(db, pictures_of(data))
            want_readings(db, queue, [stored.sha256])
    except ArtistError as error:
        return _refused(f"{name}: {error.sentence}")
    if carried is not None or trouble:
        offer = {
            "shot": shot,
            "picture": stored,
            "recipe": carried,
            "trouble": trouble,
            "changes": differences(drafts.of_shot(shot), carried) if carried else [],
        }
        return parts(part("offer", fragment("table/recipe_offer.html", offer)), part("problem-cues", ""))
    return _with_cue(db, queue, shot_id, stored.sha256, name, page_id, " ".join(stored.notes))


def _refused(sentence: str) -> Response:
    return parts(part("problem-cues", fragment("shared/field_problem.html", {"sentence": sentence})), status=422)


@router.post("/shots/{shot_id}/cues/{sha256}")
def add_cue(db: Db, queue: Queue, page_id: PageId, shot_id: Id, sha256: Sha, back: Annotated[bool, Query()] = False) -> Response:
    """Puts a picture that is known already on the cue sheet; `back` leads from another page to the table."""
    picture = pictures.find(db, sha256)
    told = _with_cue(db, queue, shot_id, sha256, cast.name_of_lead(db, sha256) or picture.name, page_id)
    return Response(headers={"HX-Redirect": f"/shots/{shot_id}"}) if back and told.status_code == 200 else told


def _with_cue(db: Db, queue: Queue, shot_id: int, sha256: str, name: str, page_id: str, note: str = "") -> Response:
    try:
        arrived = shots.add_cue(db, shot_id, sha256, name, page_id)
    except ArtistError as error:
        return _refused(error.sentence)
    want_readings(db, queue, [sha256])
    return _cue_parts(db, shot_id, note, arrived=arrived)


@router.post("/shots/{shot_id}/cues/{cue_id}/remove")
def remove_cue(db: Db, page_id: PageId, shot_id: Id, cue_id: str) -> Response:
    """Takes a cue off the sheet. Its picture stays, and the answer offers to bring the cue back."""
    _, gone = shots.remove_cue(db, shot_id, cue_id, page_id)
    return _cue_parts(db, shot_id, "", gone)


@router.post("/shots/{shot_id}/cues/{cue_id}/anchor")
def use_anchor(db: Db, queue: Queue, page_id: PageId, shot_id: Id, cue_id: str) -> Response:
    """Puts the lead anchor in the place of a cue's picture; role, weight and span stay."""
    return _changed_cue(db, shot_id, lambda: shots.use_anchor(db, shot_id, cue_id, page_id))


@router.post("/shots/{shot_id}/cues/{cue_id}/area")
def confine(db: Db, page_id: PageId, shot_id: Id, cue_id: str, area: Text = "") -> Response:
    """Lets a cue act in one part of the picture only."""
    return _changed_cue(db, shot_id, lambda: shots.confine(db, shot_id, cue_id, area, page_id))


@router.post("/shots/{shot_id}/cues/{cue_id}/lends")
def edit_reference(db: Db, page_id: PageId, shot_id: Id, cue_id: str, form: Fields) -> Response:
    """Changes what a reference lends: a part, the figure that is meant, a trait of that person."""
    return _changed_cue(db, shot_id, lambda: shots.edit_reference(db, shot_id, cue_id, read_edit(dict(form)), page_id))


@router.post("/shots/{shot_id}/held")
def hold(db: Db, page_id: PageId, shot_id: Id) -> Response:
    """Holds what the lead anchor shows, where the words leave it open."""
    return _changed_cue(db, shot_id, lambda: holding.hold(db, shots.find(db, shot_id), page_id))


@router.post("/shots/{shot_id}/held/shown")
def hold_shown(db: Db, page_id: PageId, shot_id: Id, picture: Text = "") -> Response:
    """Holds what a take chose of all that the words leave open."""
    return _changed_cue(db, shot_id, lambda: holding.hold_shown(db, shots.find(db, shot_id), picture, page_id))


@router.post("/shots/{shot_id}/held/let-go")
def let_go(db: Db, page_id: PageId, shot_id: Id, phrase: Text = "") -> Response:
    """Lets held words go."""
    return _changed_cue(db, shot_id, lambda: holding.let_go(db, shot_id, phrase, page_id))


def _changed_cue(db: Db, shot_id: int, change: Callable[[], object]) -> Response:
    try:
        change()
    except ArtistError as error:
        return parts(
            *table.cue_parts(table.gather(db, shot_id)),
            part("problem-cues", fragment("shared/field_problem.html", {"sentence": error.sentence})),
            status=422,
        )
    return _cue_parts(db, shot_id, "")


def _cue_parts(db: Db, shot_id: int, note: str, gone: Cue | None = None, arrived: Cue | None = None) -> Response:
    return parts(*table.cue_parts(table.gather(db, shot_id), note, gone, arrived), part("offer", ""), part("problem-cues", ""))


@router.post("/shots/{shot_id}/recipe")
def apply_recipe(request: Request, db: Db, page_id: PageId, shot_id: Id, form: Fields) -> Response:
    """Replaces the recipe on the table by one that was shown before."""
    recipe = read_recipe(str(form.get("recipe", "")))
    drafts.edit(db, shot_id, lambda _: recipe, page_id)
    return Response(headers={"HX-Redirect": f"/shots/{shot_id}"}) if wants_fragment(request) else RedirectResponse(f"/shots/{shot_id}", 303)
