"""Regions through the use cases: drawn, moved, worded, ordered, proposed, kept apart, and two who do it at once."""

import io
import zipfile
from xml.etree import ElementTree

import cv2
import numpy as np
import pytest
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.recipe import Region
from mosskeeper.studio import (
    cast,
    catalogue,
    choosing,
    drafts,
    influences,
    layers,
    layouts,
    maps,
    masks,
    mends,
    pictures,
    regions,
    runs,
    shots,
    working,
)
from mosskeeper.studio.influences import key_of
from mosskeeper.studio.models import Shot
from mosskeeper.studio.regions import DrawnShape, RegionGone
from tests.conftest import lay_out
from tests.studio.test_edits import at_once
from tests.studio.test_mends import SCENES, based, laid

Sessions = sessionmaker[Session]
LEFT = DrawnShape(kind="box", points=[(0.05, 0.1), (0.45, 0.95)])
RIGHT = DrawnShape(kind="box", points=[(0.55, 0.1), (0.95, 0.95)])


def of(session: Session, shot: Shot) -> list[Region]:
    return regions.of_shot(session, shot.id).regions


def mask(session: Session, shot: Shot, n: int) -> np.ndarray:
    recipe = regions.of_shot(session, shot.id)
    return regions.mask_of(session, recipe.regions[n], regions.size_of(recipe))


def test_regions_are_drawn_moved_brushed_and_taken_off_step_by_step(db: Session) -> None:
    shot = lay_out(db)
    one = regions.add(db, shot.id, LEFT)
    assert regions.box_of(mask(db, shot, 0)) == pytest.approx((0.05, 0.1, 0.45, 0.95), abs=0.01)
    regions.move(db, shot.id, one, (0.3, 0.2, 0.6, 0.8))
    assert regions.box_of(mask(db, shot, 0)) == pytest.approx((0.3, 0.2, 0.6, 0.8), abs=0.01)
    before = mask(db, shot, 0).sum()
    regions.draw(db, shot.id, one, DrawnShape(kind="stroke", points=[(0.7, 0.5), (0.9, 0.5)], way="add"))
    assert mask(db, shot, 0).sum() > before
    regions.draw(db, shot.id, one, DrawnShape(kind="outline", points=[(0, 0), (1, 0), (1, 0.4), (0, 0.4)], way="take"))
    assert regions.box_of(mask(db, shot, 0))[1] == pytest.approx(0.4, abs=0.01)
    regions.take_off(db, shot.id, one)
    assert of(db, shot) == []
    drafts.walk(db, shot.id, -1)
    assert [r.id for r in of(db, shot)] == [one]
    with pytest.raises(RegionGone):
        regions.move(db, shot.id, "nobody", (0, 0, 1, 1))


@pytest.mark.parametrize(
    "shape", [DrawnShape(kind="box", points=[(0.5, 0.5), (0.5, 0.5)]), DrawnShape(kind="box", points=[(1.2, 0.1), (1.6, 0.4)])]
)
def test_a_region_of_nothing_is_refused_and_one_pixel_or_everything_is_taken(db: Session, shape: DrawnShape) -> None:
    shot = lay_out(db)
    with pytest.raises(ArtistError, match="Nothing was drawn"):
        regions.add(db, shot.id, shape)
    regions.add(db, shot.id, DrawnShape(kind="box", points=[(0, 0), (1, 1)]))
    regions.add(db, shot.id, DrawnShape(kind="box", points=[(0.5, 0.5), (0.502, 0.502)]))
    assert mask(db, shot, 0).all() and mask(db, shot, 1).sum() == 1


def test_a_ninth_region_is_refused_and_a_copy_lies_beside(db: Session) -> None:
    shot = lay_out(db)
    one = regions.add(db, shot.id, LEFT, words="a girl")
    other = regions.copy(db, shot.id, one)
    assert [r.words for r in of(db, shot)] == ["a girl", "a girl"] and not np.array_equal(mask(db, shot, 0), mask(db, shot, 1))
    regions.order(db, shot.id, other, -5)
    assert [r.id for r in of(db, shot)] == [other, one]
    for _ in range(6):
        regions.add(db, shot.id, RIGHT)
    with pytest.raises(ArtistError, match="at most 8"):
        regions.add(db, shot.id, RIGHT)


def test_layouts_move_what_is_there_and_keep_what_it_says(db: Session) -> None:
    shot = lay_out(db)
    one = regions.add(db, shot.id, LEFT, words="a girl")
    regions.lay_out(db, shot.id, "three in a row")
    assert [r.words for r in of(db, shot)] == ["a girl", "", ""] and of(db, shot)[0].id == one
    with pytest.raises(ArtistError, match="no layout"):
        regions.lay_out(db, shot.id, "seven at once")


def test_own_layouts_are_kept_laid_on_other_shots_taken_out_and_brought_back(db: Session) -> None:
    shot, other = lay_out(db), lay_out(db)
    with pytest.raises(ArtistError, match="no regions"):
        regions.keep_layout(db, shot.id, "by the quay")
    for shape in (LEFT, RIGHT):
        regions.add(db, shot.id, shape)
    with pytest.raises(ArtistError, match="name"):
        regions.keep_layout(db, shot.id, " ")
    row = regions.keep_layout(db, shot.id, "by the quay")
    regions.lay_out(db, other.id, str(row.id))
    assert [r.mask for r in of(db, other)] == [r.mask for r in of(db, shot)]
    layouts.take_out(db, row.id)
    assert layouts.own(db) == []
    with pytest.raises(ArtistError, match="no layout"):
        regions.lay_out(db, other.id, str(row.id))
    layouts.take_out(db, row.id, back=True)
    assert [one.name for one in layouts.own(db)] == ["by the quay"]


def test_areas_of_references_are_regions(db: Session) -> None:
    shot, picture = based(db)
    cue = shots.add_cue(db, shot.id, picture, "girl")
    shots.confine(db, shot.id, cue.id, "left")
    one = regions.from_area(db, shot.id, cue.id)
    assert regions.of_shot(db, shot.id).cues[0].area == of(db, shot)[0].mask
    regions.move(db, shot.id, one, (0.5, 0.2, 0.9, 0.8))
    assert regions.of_shot(db, shot.id).cues[0].area == of(db, shot)[0].mask
    assert regions.plan_of(db, regions.of_shot(db, shot.id), 3).told == ()
    other = regions.add(db, shot.id, RIGHT)
    shots.confine(db, shot.id, cue.id, other)
    assert regions.of_shot(db, shot.id).cues[0].area == of(db, shot)[1].mask
    shots.confine(db, shot.id, cue.id, "")
    with pytest.raises(ArtistError, match="acts everywhere"):
        regions.from_area(db, shot.id, cue.id)


def test_regions_are_proposed_from_the_words(db: Session) -> None:
    shot = lay_out(db)
    drafts.edit(db, shot.id, lambda r: r.model_copy(update={"words": "a girl hands a letter to an old man, bell tower"}))
    regions.propose(db, shot.id)
    assert [r.words for r in of(db, shot)] == ["a girl hands a letter to the old man", "an old man"]
    assert regions.of_shot(db, shot.id).words == "bell tower"
    plan = regions.plan_of(db, regions.of_shot(db, shot.id), 3)
    assert [p.subject for p in plan.people] == ["girl", "old man"] and plan.people[0].box[2] < plan.people[1].box[2]
    drafts.edit(db, shot.id, lambda r: r.model_copy(update={"words": "bell tower", "regions": []}))
    with pytest.raises(ArtistError, match="name nobody"):
        regions.propose(db, shot.id)


def test_overlaps_are_told_and_kept_apart_by_one_press(db: Session) -> None:
    shot = lay_out(db)
    regions.add(db, shot.id, LEFT, words="a girl")
    regions.add(db, shot.id, DrawnShape(kind="box", points=[(0.35, 0.1), (0.9, 0.95)]), words="an old man")
    [one] = regions.plan_of(db, regions.of_shot(db, shot.id), 3).overlaps
    assert one.share == pytest.approx(0.25, abs=0.02)
    regions.keep_apart(db, shot.id)
    assert regions.plan_of(db, regions.of_shot(db, shot.id), 3).overlaps == ()


def test_the_cast_stands_in_regions_with_traits_and_outfit(db: Session) -> None:
    shot = lay_out(db)
    oda = cast.add_character(db, shot.story_id, "Oda Brask", "old woman, silver curls")
    cloak = cast.add_outfit(db, oda.id, "cloak", "a plum travelling coat")
    one = regions.add(db, shot.id, LEFT)
    regions.cast_in(db, shot.id, one, oda.id, cloak.id)
    [region] = of(db, shot)
    assert region.given == "Oda Brask, old woman, silver curls, in a plum travelling coat" and region.name == "Oda Brask"
    assert regions.plan_of(db, regions.of_shot(db, shot.id), 3).people[0].subject == "old woman"
    catalogue.edit(db, catalogue.kind_of("outfit"), cloak.id, "cloak", "a green cape")
    catalogue.edit(db, catalogue.kind_of("character"), oda.id, "Oda", "old woman, silver curls")
    [region] = of(db, shot)
    assert region.given == "Oda, old woman, silver curls, in a green cape" and region.name == "Oda"
    regions.cast_in(db, shot.id, one, 0, 0)
    assert of(db, shot)[0].given == ""


def test_regions_are_laid_over_who_is_seen_and_over_kept_choices(db: Session) -> None:
    shot, base = based(db)
    regions.from_picture(db, shot.id, base)
    assert [r.words for r in of(db, shot)] == ["a girl"]
    seen = choosing.known(db, base)
    assert seen is not None and mask(db, shot, 0).mean() == pytest.approx(seen.mask("1 figure").mean(), abs=0.02)
    stack, mend = laid(db, shot, base)
    masks.keep_choice(db, stack, mend, "her hair")
    regions.from_choice(db, shot.id, base, "her hair")
    assert of(db, shot)[1].name == "her hair" and 0 < mask(db, shot, 1).mean() < mask(db, shot, 0).mean()
    with pytest.raises(ArtistError, match="No choice"):
        regions.from_choice(db, shot.id, base, "nothing of that name")
    with pytest.raises(ArtistError, match="still being looked for"):
        regions.from_picture(db, shot.id, "0" * 64)


def test_edits_of_two_regions_at_once_both_stand(make_session: Sessions) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
        one, other = regions.add(session, shot.id, LEFT), regions.add(session, shot.id, RIGHT)

    def word(region: str, words: str):  # type: ignore[no-untyped-def]
        return lambda session: regions.tell(session, shot.id, region, {"words": words}, page=region)

    at_once(make_session, word(one, "a girl"), word(other, "an old man"))
    with make_session() as session:
        assert [r.words for r in of(session, shot)] == ["a girl", "an old man"]


def test_a_saved_form_merges_with_regions_that_were_changed_meanwhile(db: Session) -> None:
    shot = lay_out(db)
    one = regions.add(db, shot.id, LEFT, words="a girl")
    base = regions.of_shot(db, shot.id)
    regions.tell(db, shot.id, one, {"words": "a boy"})
    _, clashes = drafts.save(db, shot.id, base, base.model_copy(update={"words": "at dusk"}))
    assert clashes == () and of(db, shot)[0].words == "a boy" and regions.of_shot(db, shot.id).words == "at dusk"


def test_how_near_each_is_to_the_own_anchors_is_told_and_told_anew_with_others(db: Session) -> None:
    shot, picture = based(db)
    girl = cast.add_character(db, shot.story_id, "Wren Hollis", "girl")
    everything = DrawnShape(kind="box", points=[(0, 0), (1, 1)])
    regions.cast_in(db, shot.id, regions.add(db, shot.id, everything), girl.id, 0)
    run = runs.create(db, shots.find(db, shot.id), regions.of_shot(db, shot.id).with_seed(4))
    assert working.begin(db, run.id, "worker") is not None
    take = working.store_take(db, run.id, 0, 4, pictures.pixels(db, picture), 1.0, says=["Region A (girl) floats."])
    assert take.says == ["Region A (girl) floats."]
    maps.make(db, key_of(take.id, 0))
    facts = maps.facts(db, key_of(take.id, 0))
    assert facts is not None and not any("anchors of" in said for said in facts["told"])
    assert any("things that A’s words name" in said for said in facts["told"])
    drawing = draw(SCENES.scene.description, (256, 320)).image
    cast.add_anchor(db, girl.id, pictures.store(db, drawing, "anchor", "upload").sha256)
    assert not influences.holds(db, take.id, 0, facts)
    maps.make(db, key_of(take.id, 0))
    facts = maps.facts(db, key_of(take.id, 0))
    assert facts is not None and any("Wren Hollis" in said for said in facts["told"]) and influences.holds(db, take.id, 0, facts)


def test_what_bled_becomes_a_mend_with_the_words_of_whom_it_lies_on(db: Session) -> None:
    shot, picture = based(db)
    for shape, words in ((LEFT, "a girl"), (RIGHT, "an old man")):
        regions.add(db, shot.id, shape, words=words)
    run = runs.create(db, shots.find(db, shot.id), regions.of_shot(db, shot.id).with_seed(4))
    assert working.begin(db, run.id, "worker") is not None
    take = working.store_take(db, run.id, 0, 4, pictures.pixels(db, picture), 1.0)
    with pytest.raises(ArtistError, match="Nothing of this region bled"):
        influences.mend(db, take.id, 0, {"out": ""})
    bled = np.zeros((320, 256), bool)
    bled[100:140, 150:200] = True
    influences.mend(db, take.id, 0, {"out": masks.store_mask(db, bled), "lies": 1})
    made = mends.standing(db, shot.id, take.picture_sha256)
    [mend] = made.stack.mends
    assert mend.words == "an old man" and masks.mask_of(db, mend, (256, 320)).sum() == bled.sum()


def test_a_take_comes_in_layers(db: Session) -> None:
    shot, picture = based(db)
    regions.add(db, shot.id, LEFT, words="a girl")
    cue = shots.add_cue(db, shot.id, picture, "girl")
    shots.confine(db, shot.id, cue.id, "right")
    run = runs.create(db, shots.find(db, shot.id), regions.of_shot(db, shot.id).with_seed(4))
    assert working.begin(db, run.id, "worker") is not None
    take = working.store_take(db, run.id, 0, 4, pictures.pixels(db, picture), 1.0)
    with zipfile.ZipFile(io.BytesIO(layers.of_take(db, take))) as file:
        told = ElementTree.fromstring(file.read("stack.xml"))
        named = {one.get("name"): (one.get("visibility"), one.get("src")) for one in told.iter("layer")}
        alpha = cv2.imdecode(np.frombuffer(file.read(named["region A: a girl"][1] or ""), np.uint8), cv2.IMREAD_UNCHANGED)[..., 3]
        merged = cv2.imdecode(np.frombuffer(file.read("mergedimage.png"), np.uint8), cv2.IMREAD_COLOR)[..., ::-1]
    assert [state for state, _ in named.values()] == ["hidden", "hidden", "visible"] and any("right" in str(name) for name in named)
    assert (merged == pictures.pixels(db, picture)).all() and alpha[160, 64] == 255 and alpha[160, 200] == 0


def test_what_a_region_did_is_found_by_a_worker_and_kept(db: Session) -> None:
    shot = lay_out(db)
    regions.add(db, shot.id, LEFT, words="a girl with copper hair")
    regions.add(db, shot.id, RIGHT, words="an old man")
    run = runs.create(db, shots.find(db, shot.id), regions.of_shot(db, shot.id).with_seed(4))
    begun = working.begin(db, run.id, "worker")
    assert begun is not None
    take = working.store_take(db, run.id, 0, 4, np.zeros((320, 256, 3), np.uint8), 1.0).id
    assert maps.facts(db, key_of(take, 0)) is None
    maps.make(db, key_of(take, 0))
    facts = maps.facts(db, key_of(take, 0))
    assert facts is not None and facts["told"] and maps.png(db, key_of(take, 0))
    with pytest.raises(ArtistError):
        maps.check(db, key_of(take, 5))


def test_two_references_added_to_one_region_at_once_are_both_kept(make_session: sessionmaker[Session]) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
        one = regions.add(session, shot.id, LEFT)
        names = [pictures.store(session, np.full((40, 32, 3), grey, np.uint8), f"{grey}", "upload").sha256 for grey in (10, 20)]
    at_once(make_session, *[lambda s, n=n: regions.add_cue(s, shot.id, one, shots.new_cue("face", n, "x")) for n in names])
    with make_session.begin() as session:
        cues = of(session, shot)[0].cues
        assert {cue.picture for cue in cues} == set(names)
    first, second = (cue.id for cue in cues)
    at_once(
        make_session,
        lambda s: regions.weigh_cue(s, shot.id, one, first, 0.3),
        lambda s: regions.weigh_cue(s, shot.id, one, second, 0),
    )
    with make_session.begin() as session:
        assert [(cue.id, cue.weight) for cue in of(session, shot)[0].cues] == [(first, 0.3)]


def test_somebody_of_the_cast_comes_into_a_region_with_their_anchor(db: Session) -> None:
    shot = lay_out(db)
    one = regions.add(db, shot.id, LEFT)
    sha256 = pictures.store(db, np.full((40, 32, 3), 40, np.uint8), "anchor", "upload").sha256
    cast.add_anchor(db, shot.character_id or 0, sha256)
    db.expire_all()
    regions.cast_in(db, shot.id, one, shot.character_id or 0, 0)
    (cue,) = of(db, shot)[0].cues
    assert (cue.role, cue.picture, cue.name) == ("face", sha256, "Ada Reed, lead anchor")
    regions.cast_in(db, shot.id, one, 0, 0)
    assert of(db, shot)[0].cues == []
