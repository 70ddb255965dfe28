"""The light table: one shot, its recipe, its takes."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from starlette.datastructures import FormData

from mosskeeper.core.cue_sheet import neutral as without_styles
from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.errors import ArtistError, BadRecipe, Conflict
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.core.recipe import Cue, Recipe, differences, read_recipe
from mosskeeper.core.roles import role
from mosskeeper.formats.png import recipe_of
from mosskeeper.queue.app import submit
from mosskeeper.studio import cast, library, pictures, shots
from mosskeeper.web.deps import Db, Fields, Queue
from mosskeeper.web.render import fragment, page, part, parts, wants_fragment
from mosskeeper.web.table import view as table
from mosskeeper.web.table.forms import optional_id, recipe_from_form

router = APIRouter()


@router.get("/shots/{shot_id}")
def light_table(
    request: Request, db: Db, shot_id: int, take: int | None = None, compare: str = "", aside: Annotated[bool, Query()] = False
) -> Response:
    made = table.gather(db, shot_id, take, compare, aside)
    if wants_fragment(request):
        return parts(*table.view_parts(made))
    return page(request, "table/shot.html", table.context(made))


@router.post("/shots/{shot_id}/draft")
def save_draft(db: Db, shot_id: int, form: Fields) -> Response:
    """Saves the table as it stands. Wrong values are told beside their fields, and nothing typed is touched."""
    shot = shots.find(db, shot_id)
    recipe, problems = recipe_from_form(form, shots.draft(shot))
    if recipe is None:
        return parts(*table.saved_parts(table.gather(db, shot_id), problems), status=422)
    try:
        shots.save(db, shot_id, recipe, _revision(form, shot.revision))
    except Conflict as conflict:
        return _told_conflict(shot_id, conflict)
    return parts(*table.saved_parts(table.gather(db, shot_id), {}))


def _told_conflict(shot_id: int, conflict: Conflict) -> Response:
    told = fragment("table/conflict.html", {"shot_id": shot_id, "sentence": conflict.sentence})
    # morphed: a second answer must not take away the button that is just being pressed
    return parts(part("conflict", told, "innerMorph"), status=409)


def _revision(form: FormData, current: int) -> int:
    """The revision the page was made from; "over" says that the artist wants to overwrite."""
    if form.get("over"):
        return current
    value = str(form.get("revision", ""))
    return int(value) if value.isdigit() else -1


@router.post("/shots/{shot_id}/undo")
def undo(db: Db, shot_id: int) -> Response:
    return _walked(db, shot_id, -1)


@router.post("/shots/{shot_id}/redo")
def redo(db: Db, shot_id: int) -> Response:
    return _walked(db, shot_id, 1)


def _walked(db: Db, shot_id: int, by: int) -> Response:
    """The page is made anew: fields that were typed in would not let go of what stands in them."""
    shots.walk(db, shot_id, by)
    return Response(headers={"HX-Refresh": "true"})


@router.post("/shots/{shot_id}/run")
def run(db: Db, queue: Queue, shot_id: int, form: Fields, neutral: Annotated[bool, Query()] = False) -> Response:
    """Saves the table and runs it; a neutral run leaves all styles out, and the table as it is."""
    shot = shots.find(db, shot_id)
    recipe, problems = recipe_from_form(form, shots.draft(shot))
    if recipe is None:
        return parts(*table.saved_parts(table.gather(db, shot_id), problems), status=422)
    try:
        shot = shots.save(db, shot_id, recipe, _revision(form, shot.revision))
        with db.begin_nested():
            submit(db, queue, shot, without_styles(soloed(recipe)) if neutral else soloed(recipe))
    except Conflict as conflict:
        return _told_conflict(shot_id, conflict)
    except ArtistError as error:
        return parts(*table.saved_parts(table.gather(db, shot_id), {error.field: error.sentence}), status=422)
    made = table.gather(db, shot_id)
    return parts(*table.saved_parts(made, {}), *table.run_parts(made))


@router.post("/shots/{shot_id}/recast")
def recast(request: Request, db: Db, shot_id: int, form: Fields) -> Response:
    """Changes scene, character or outfit; the page is made anew since the anchor and the given words change."""
    shot = shots.find(db, shot_id)
    recipe, _ = recipe_from_form(form, shots.draft(shot))
    if recipe is not None:
        shots.save(db, shot_id, recipe, _revision(form, shot.revision))
    shots.recast(db, shot_id, optional_id(form, "scene"), optional_id(form, "character"), optional_id(form, "outfit"))
    return Response(headers={"HX-Redirect": f"/shots/{shot_id}"}) if wants_fragment(request) else RedirectResponse(f"/shots/{shot_id}", 303)


@router.post("/shots/{shot_id}/pictures")
def drop_picture(db: Db, shot_id: int, picture: Annotated[UploadFile, File()], as_cue: Annotated[bool, Query()] = False) -> Response:
    """A picture was dropped, pasted or chosen. One that carries a recipe is asked about first; any other becomes a cue."""
    data, name = picture.file.read(MAX_BYTES + 1), picture.filename or "pasted picture"
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
            stored = pictures.upload(db, data, name.rsplit(".", 1)[0])
            library.add(db, stored.sha256, "upload", name.rsplit(".", 1)[0], shot.story_id)
    except ArtistError as error:
        return parts(part("problem-cues", fragment("shared/field_problem.html", {"sentence": f"{name}: {error.sentence}"})), status=422)
    if carried is not None or trouble:
        offer = {
            "shot": shot,
            "picture": stored,
            "recipe": carried,
            "trouble": trouble,
            "changes": differences(shots.draft(shot), carried) if carried else [],
        }
        return parts(part("offer", fragment("table/recipe_offer.html", offer)), part("problem-cues", ""))
    return _with_cue(db, shot_id, stored.sha256, " ".join(stored.notes), name.rsplit(".", 1)[0])


@router.post("/shots/{shot_id}/cues/{sha256}")
def add_cue(db: Db, shot_id: int, sha256: str, back: Annotated[bool, Query()] = False) -> Response:
    """Puts a picture that is known already on the cue sheet; `back` leads from another page to the table."""
    told = _with_cue(db, shot_id, pictures.find(db, sha256).sha256, "", cast.name_of_lead(db, sha256))
    return Response(headers={"HX-Redirect": f"/shots/{shot_id}"}) if back else told


def _with_cue(db: Db, shot_id: int, sha256: str, note: str, name: str = "") -> Response:
    shot = shots.find(db, shot_id)
    recipe, picture = shots.draft(shot), pictures.find(db, sha256)
    begins = role("look")
    cues = [*recipe.cues, Cue(picture=sha256, name=(name or picture.name)[:120], weight=begins.weight, start=begins.start, end=begins.end)]
    if len(cues) > 12:
        return parts(part("problem-cues", fragment("shared/field_problem.html", {"sentence": "At most 12 cues are possible."})), status=422)
    shots.save(db, shot_id, recipe.model_copy(update={"cues": cues}), shot.revision)
    return _cue_parts(db, shot_id, note)


@router.post("/shots/{shot_id}/cues/{place}/remove")
def remove_cue(db: Db, shot_id: int, place: int) -> Response:
    """Takes a cue off the sheet. Its picture stays, and the answer offers to bring the cue back."""
    shot = shots.find(db, shot_id)
    recipe = shots.draft(shot)
    if not 0 <= place < len(recipe.cues):
        return _cue_parts(db, shot_id, "")
    gone = recipe.cues[place]
    rest = [c for i, c in enumerate(recipe.cues) if i != place]
    shots.save(db, shot_id, recipe.model_copy(update={"cues": rest}), shot.revision)
    return _cue_parts(db, shot_id, "", gone)


@router.post("/shots/{shot_id}/cues/{place}/anchor")
def use_anchor(db: Db, shot_id: int, place: int) -> Response:
    """Puts the lead anchor in the place of a cue's picture; role, weight and span stay."""
    shot = shots.find(db, shot_id)
    recipe, lead = shots.draft(shot), shot.character.lead if shot.character else None
    if lead is not None and 0 <= place < len(recipe.cues):
        name = cast.name_of_lead(db, lead.picture_sha256)[:120]
        cues = [c.model_copy(update={"picture": lead.picture_sha256, "name": name}) if i == place else c for i, c in enumerate(recipe.cues)]
        shots.save(db, shot_id, recipe.model_copy(update={"cues": cues}), shot.revision)
    return _cue_parts(db, shot_id, "")


@router.post("/shots/{shot_id}/cues/{place}/area")
def confine(db: Db, shot_id: int, place: int, area: Annotated[str, Form()] = "") -> Response:
    """Lets a cue act in one part of the picture only."""
    shots.confine(db, shot_id, place, area)
    return _cue_parts(db, shot_id, "")


def _cue_parts(db: Db, shot_id: int, note: str, gone: Cue | None = None) -> Response:
    made = table.gather(db, shot_id)
    c = table.context(made) | {"note": note, "gone": gone}
    return parts(
        part("cues", fragment("table/cues.html", c), "outerHTML"),
        part("offer", ""),
        part("run-facts", fragment("table/run_facts.html", c)),
        part("revision", fragment("table/revision.html", c)),
        part("hints", fragment("table/hints.html", c)),
        part("history", fragment("table/undo.html", c)),
    )


@router.post("/shots/{shot_id}/recipe")
def apply_recipe(request: Request, db: Db, shot_id: int, form: Fields) -> Response:
    """Replaces the recipe on the table by one that was shown before."""
    shot = shots.find(db, shot_id)
    recipe = read_recipe(str(form.get("recipe", "")))
    shots.save(db, shot_id, recipe, shot.revision)
    return Response(headers={"HX-Redirect": f"/shots/{shot_id}"}) if wants_fragment(request) else RedirectResponse(f"/shots/{shot_id}", 303)
