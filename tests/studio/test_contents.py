"""What stored pictures hold as references: scenes, copies, corrections that stay, anchors together, cues that begin by themselves."""

import hashlib
import io
import json
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.commands.draw import draw_recipe
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.engines.builtin import FULL
from mosskeeper.engines.contract import Materials
from mosskeeper.formats.png import with_recipe
from mosskeeper.studio import anchor_traits, cast, catalogue, contents, drafts, explaining, pictures, readings, regions, shots, working
from mosskeeper.studio.models import Character, Shot
from mosskeeper.studio.reference_edits import PartSwitched
from tests.conftest import SMALL, lay_out
from tests.studio.test_edits import at_once

Sessions = sessionmaker[Session]
BEARDED = Description(
    subject="man",
    hair="curls",
    hair_colour="copper",
    facial_hair="beard",
    glasses=True,
    skin="peach",
    layout=Layout("facing", "bust", view="front"),
)
SCENE = scene_of(BEARDED, (320, 400))
PORTRAIT = draw_scene(SCENE).image
LARGE = SMALL.model_copy(update={"count": 1})


def kept(session: Session, picture: np.ndarray = PORTRAIT, scenes: LayeredScenes | None = None) -> str:
    sha256 = pictures.store(session, picture, "Portrait", "take" if scenes else "upload").sha256
    if scenes is not None:
        explaining.note(session, sha256, scenes)
    readings.of_picture(session, sha256)
    return sha256


def saved_again() -> np.ndarray:
    out = io.BytesIO()
    Image.fromarray(PORTRAIT[10:330, 30:290]).resize((208, 256), Image.Resampling.LANCZOS).save(out, "JPEG", quality=85)
    return np.asarray(Image.open(out))


@pytest.fixture(scope="module")
def own() -> LayeredScenes:
    return LayeredScenes.of([SCENE])


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        return lay_out(session)


def test_a_take_holds_its_scene_and_a_copy_of_it_is_recognised(db: Session, own: LayeredScenes) -> None:
    take = kept(db, scenes=own)
    copy = kept(db, saved_again())
    held = readings.known_of(db, [take, copy])
    assert held[take].contents is not None
    assert held[copy].contents is not None
    assert (held[take].contents.origin, held[copy].contents.origin) == ("scene", "found")
    assert held[copy].contents.copy_of == take
    for name in (take, copy):
        person = held[name].contents.subject(None).person  # type: ignore[union-attr]
        assert (person.facial_hair, person.glasses, person.hair_colour) == ("beard", True, "copper")


@pytest.mark.statistics
def test_a_picture_from_elsewhere_is_explained_and_says_what_it_is_not_sure_of(db: Session) -> None:
    reading = readings.known(db, kept(db))
    assert reading is not None
    assert reading.contents is not None
    assert reading.contents.origin == "explained"
    subject = reading.contents.subject(None)
    assert subject is not None
    assert "eyes" in subject.unsure()  # which the reader is known to misread


def test_a_take_brought_in_as_a_file_brings_its_scene_along_unless_it_was_painted_over(db: Session, own: LayeredScenes) -> None:
    data = with_recipe(encode_png(PORTRAIT), Recipe(), "Portrait", own)
    stored = pictures.upload(db, data, "portrait.png")
    assert explaining.of_picture(db, stored.sha256) is not None
    painted = PORTRAIT.copy()
    painted[:50] = 0
    image = Image.open(io.BytesIO(data))
    image.load()
    from PIL import PngImagePlugin

    info = PngImagePlugin.PngInfo()
    for key, value in image.text.items():  # type: ignore[attr-defined]
        info.add_itxt(key, value)
    out = io.BytesIO()
    Image.fromarray(painted).save(out, "PNG", pnginfo=info)
    assert explaining.of_picture(db, pictures.upload(db, out.getvalue(), "painted.png").sha256) is None


def test_corrections_stay_with_the_picture_and_are_in_every_recipe_that_runs(make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        sha256 = kept(session)
        cue = shots.new_cue("face", sha256, "Portrait")
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": [cue]}))
    at_once(
        make_session,
        lambda s: contents.correct(s, sha256, 0, "hair", "bun"),
        lambda s: contents.correct(s, sha256, 0, "eyes", "green"),
    )
    with make_session.begin() as session:
        settled = readings.settled(session, drafts.of_shot(shots.find(session, shot.id)))
        assert settled.cues[0].corrected == {"hair": "bun", "eyes": "green"}
        contents.correct(session, sha256, 0, "hair", "")
        assert readings.settled(session, drafts.of_shot(shots.find(session, shot.id))).cues[0].corrected == {"eyes": "green"}


@pytest.mark.statistics
@pytest.mark.parametrize(
    ("trait", "value", "says"), [("mood", "x", "no trait"), ("hair", "x", "Choose one of"), ("place", "kitchen", "no trait")]
)
def test_a_correction_that_cannot_be_is_refused_with_the_choice(db: Session, trait: str, value: str, says: str) -> None:
    with pytest.raises(ArtistError, match=says):
        contents.correct(db, kept(db), 0, trait, value)


def switch(part: str, on: bool) -> PartSwitched:
    return PartSwitched(edit="part", part=part, on=on)


def test_two_switches_of_a_region_pressed_at_once_are_both_kept(make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        region = regions.add(session, shot.id, regions.DrawnShape(kind="box", points=[(0.1, 0.1), (0.6, 0.9)]))
        cue = shots.new_cue("face", kept(session), "Portrait")
        regions.add_cue(session, shot.id, region, cue)
    at_once(
        make_session,
        lambda s: regions.edit_reference(s, shot.id, region, cue.id, switch("hair", False)),
        lambda s: regions.edit_reference(s, shot.id, region, cue.id, switch("clothes", True)),
    )
    with make_session.begin() as session:
        (own,) = drafts.of_shot(shots.find(session, shot.id)).regions[0].cues
        assert own.parts is not None
        assert "hair" not in own.parts and "clothes" in own.parts
        with pytest.raises(ArtistError, match="not there any more"):
            regions.edit_reference(session, shot.id, region, "nothere", switch("hair", True))


def test_two_switches_pressed_at_once_are_both_kept(make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        cue = shots.new_cue("face", kept(session), "Portrait")
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": [cue]}))
    at_once(
        make_session,
        lambda s: shots.edit_reference(s, shot.id, cue.id, switch("hair", False)),
        lambda s: shots.edit_reference(s, shot.id, cue.id, switch("clothes", True)),
    )
    with make_session.begin() as session:
        parts = shots.cue(session, shot.id, cue.id).parts
        assert parts is not None
        assert "hair" not in parts and "clothes" in parts and "glasses" in parts
        with pytest.raises(ArtistError, match="no part"):
            shots.edit_reference(session, shot.id, cue.id, switch("place", True))
        for part in parts[:-1]:
            shots.edit_reference(session, shot.id, cue.id, switch(part, False))
        with pytest.raises(ArtistError, match="lends nothing"):
            shots.edit_reference(session, shot.id, cue.id, switch(parts[-1], False))


def anchored(session: Session, shot: Shot, own: LayeredScenes) -> Character:
    character = session.get_one(Character, shot.character_id)
    cast.add_anchor(session, character.id, kept(session, scenes=own))
    session.expire_all()
    return character


def test_a_shot_of_somebody_begins_with_their_anchor_and_follows_a_change_of_cast(db: Session, own: LayeredScenes) -> None:
    shot = lay_out(db)
    character = anchored(db, shot, own)
    made = shots.create(db, shot.story_id, "", None, character.id)
    (cue,) = drafts.of_shot(made).cues
    assert (cue.role, cue.picture, cue.name) == ("face", character.lead.picture_sha256, "Ada Reed, lead anchor")  # type: ignore[union-attr]
    other = cast.add_character(db, shot.story_id, "Tom", "boy")
    cast.add_anchor(db, other.id, kept(db, PORTRAIT[:, ::-1].copy()))
    db.expire_all()
    (cue,) = drafts.of_shot(shots.recast(db, made.id, None, other.id, None)).cues
    assert cue.name == "Tom, lead anchor"
    assert drafts.of_shot(shots.recast(db, made.id, None, None, None)).cues == []
    free = Recipe(cues=[shots.new_cue("look", cue.picture or "", "somebody")])
    assert [c.name for c in drafts.of_shot(shots.create(db, shot.story_id, "", None, character.id, recipe=free)).cues] == ["somebody"]


def test_a_characters_cue_stands_for_all_their_anchors(db: Session, own: LayeredScenes) -> None:
    shot = lay_out(db)
    character = anchored(db, shot, own)
    further = kept(db, PORTRAIT[:, ::-1].copy())
    cast.add_anchor(db, character.id, further)
    lead = next(a.picture_sha256 for a in cast.anchors(db, character.id) if a.lead)
    recipe = Recipe(cues=[Cue(picture=lead, role="face"), Cue(picture=lead, role="palette", id="p")])
    face, palette = readings.settled(db, recipe).cues
    assert (face.also, palette.also) == ([further], [])
    assert further in readings.of_recipe(db, readings.settled(db, recipe))


def test_anchors_offer_their_traits_as_words_and_a_wrong_word_is_told(db: Session, own: LayeredScenes) -> None:
    shot = lay_out(db)
    character = anchored(db, shot, own)
    catalogue.edit(db, catalogue.KINDS["character"], character.id, character.name, "man, black hair, curls")
    told = {one.trait: one for one in anchor_traits.offered(db, character)}
    assert told["hair colour"].instead_of == "ink hair"
    assert told["hair colour"].words == "copper hair"
    assert told["glasses"].instead_of == ""
    assert "hair" not in told  # the words say it
    anchor_traits.accept(db, character.id, "hair colour")
    anchor_traits.accept(db, character.id, "facial hair")
    assert character.traits == "man, curls, copper hair, beard"
    assert "copper hair" in drafts.of_shot(shots.find(db, shot.id)).given
    with pytest.raises(ArtistError, match="not offered"):
        anchor_traits.accept(db, character.id, "facial hair")


ROLES = ("look", "face", "outfit", "place", "light", "style", "palette", "edges", "tone", "depth", "pose")
KINDS = ("take", "copy", "other hand")
_SOON = {("look", "other hand"), ("face", "copy"), ("pose", "take")}  # the rest is compared by `./moss test --all`
_CASES = [pytest.param(role, kind, marks=() if (role, kind) in _SOON else pytest.mark.statistics) for role in ROLES for kind in KINDS]


@pytest.mark.parametrize(("role", "kind"), _CASES)
def test_draw_makes_the_bytes_of_the_studio_for_the_same_recipe_and_pictures(
    db: Session, own: LayeredScenes, tmp_path: Path, role: str, kind: str
) -> None:
    take = tmp_path / "take.png"
    take.write_bytes(with_recipe(encode_png(PORTRAIT), Recipe(), "Portrait", own))
    picture = {"take": PORTRAIT, "copy": saved_again(), "other hand": PORTRAIT[:, ::-1].copy()}[kind]
    file = take if kind == "take" else tmp_path / "picture.png"
    if kind != "take":
        file.write_bytes(encode_png(picture))
    pictures.upload(db, take.read_bytes(), "take")
    readings.of_picture(db, pictures.upload(db, take.read_bytes(), "take").sha256)
    sha256 = pictures.upload(db, file.read_bytes(), "picture").sha256
    recipe = readings.settled(
        db,
        Recipe(
            words="in the bell tower", width=256, height=320, steps=4, seed=3, count=1, cues=[Cue(role=role, picture=sha256, weight=0.8)]
        ),
    )
    made = FULL.generate(
        recipe, 3, Materials(working.cue_pixels(db, recipe), readings.of_recipe(db, recipe)), lambda _: None, lambda: False
    )
    document = tmp_path / "recipe.json"
    document.write_text(json.dumps(recipe.model_dump()))
    files = [file] if kind == "take" else [file, take]
    (out,) = draw_recipe(document, None, tmp_path / "out", files)
    assert np.array_equal(np.asarray(Image.open(out).convert("RGB")), made.image)
    plain = recipe.model_copy(update={"cues": []})
    assert not np.array_equal(FULL.generate(plain, 3, Materials(), lambda _: None, lambda: False).image, made.image)


@pytest.mark.statistics
def test_draw_says_what_of_a_cue_cannot_act(tmp_path: Path) -> None:
    grey = encode_png(np.full((64, 64, 3), 90, np.uint8))
    (tmp_path / "grey.png").write_bytes(grey)
    cue = Cue(role="face", name="Grey", picture=hashlib.sha256(grey).hexdigest())
    recipe = Recipe(words="a girl", width=256, height=256, steps=4, count=1, seed=1, cues=[cue])
    (tmp_path / "recipe.json").write_text(recipe.to_json())
    told: list[str] = []
    assert len(list(draw_recipe(tmp_path / "recipe.json", None, tmp_path, [tmp_path / "grey.png"], told.append))) == 1
    assert told == ["Grey: No face is read in this picture, so it cannot lend one: choose a picture in which it is seen clearly."]
