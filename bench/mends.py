"""`./moss bench mends`: mends through the studio's use cases: is what was asked there, does the rest stay, how soon it comes."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session, sessionmaker

from bench.report import Row, row
from bench.studio import bench_studio
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.mending.choose.carried_mask import Nowhere, carried_mask
from mosskeeper.core.mending.choose.choices import choices_of_drawing
from mosskeeper.core.mending.choose.mask_edits import grown
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.decode import decode, encode_jpeg
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.stack import Mend
from mosskeeper.core.takes.take import make_take
from mosskeeper.studio import choosing, explaining, maps, masks, mends, pictures, readings, runs, shots, stacks, stories, working
from mosskeeper.studio.database import connect, sessions
from mosskeeper.studio.models import Run, Shot, Variant

Mask = NDArray[np.bool_]
_WORDS = (
    "a girl with a copper braid in a festival coat, holding a lantern, in the canal market at dusk, half figure",
    "an old man with a felt hat in a tunic, on the forest path, full figure",
    "a woman with glasses in a rain cape, holding a letter, on the library stair, half figure",
    "a boy in a blue tunic, holding a kite, in the kite loft, full figure",
    "a woman with a bun in a dress, with a fox, in the roof garden, full figure",
    "a girl with short curls in a tunic in the fern house, portrait",
)
_LIKE = 16.0  # ΔE within which a cloth has the colour that was named
_INSTRUCTIONS = (
    "make the lantern bigger",
    "make the dog bigger",
    "give her a beanie",
    "change the coat to red",
    "remove the hat",
    "take off her glasses",
    "add a scarf",
    "make her smile",
    "turn the tunic into a raincoat",
    "make her taller",
    "put a letter in her hand",
    "get rid of the lantern",
    "hat off",
    "glasses off",
    "make the hair longer",
    "replace the hat with a cap",
    "give him glasses",
    "make it prettier",
    "fix the hands",
    "change the sky to night",
    "add a unicorn",
    "make the fox smaller",
    "please add a cat",
    "let her close her eyes",
)


@dataclass(slots=True)
class Desk:
    """One shot with its takes, and what was measured."""

    session: Session
    shot: Shot
    own: list[str]
    foreign: list[str]
    there: dict[str, list[bool]] = field(default_factory=lambda: {"own": [], "foreign": [], "gone": []})
    outside: list[int] = field(default_factory=list)
    hats: list[float] = field(default_factory=list)
    apart: list[float] = field(default_factory=list)
    missed: list[str] = field(default_factory=list)


def started(session: Session) -> Desk:
    story = stories.create(session, "Mended")
    shot = shots.create(session, story.id, "Mended", recipe=Recipe(words="a girl", seed=5))
    own, foreign = [], []
    for n, words in enumerate(_WORDS):
        take = make_take(Recipe(words=words, width=512, height=640), 9100 + n)
        assert take.explained is not None
        sha256 = pictures.store(session, take.image, f"take {n}", "take").sha256
        explaining.note(session, sha256, take.explained)
        own.append(sha256)
        brought = decode(encode_jpeg(take.image, 92)).rgb_u8
        foreign.append(pictures.store(session, brought, f"brought {n}", "upload").sha256)
    for sha256 in (*own, *foreign):
        maps.make(session, choosing.key_of(sha256))
    return Desk(session, shot, own, foreign)


def made(session: Session, stack: int, mend: str, redo: bool = False) -> list[Variant]:
    """Variants of a mend, or of the one that has to be redone next."""
    found = mends.to_redo(session, stack) if redo else None
    shot, recipe = found[:2] if found is not None else mends.asked(session, stack, mend)
    of = found[2] if found is not None else mend
    return worked(session, runs.create(session, shot, recipe, (), runs.OfMend(stack, of)))


def worked(session: Session, run: Run) -> list[Variant]:
    """What a worker does with a run of a mend."""
    begun = working.begin(session, run.id, "bench")
    assert begun is not None
    assert begun.of_mend
    out = []
    for one in begun.missing:
        take = make_take(
            one.recipe,
            one.seed,
            working.cue_pixels(session, one.recipe),
            readings=readings.of_recipe(session, one.recipe),
            explained=explaining.of_recipe(session, one.recipe),
        )
        out.append(mends.store_variant(session, run.id, one.place, one.seed, take.image, 0.0, take.explained, take.says))
    working.finish(session, run.id, begun.token, "done")
    return out


def _laid(desk: Desk, base: str, mask: Mask, words: str, count: int = 1, outlines: bool = True) -> tuple[int, str]:
    row_ = stacks.opened(desk.session, desk.shot.id, base)
    mend = Mend(id="new", mask=masks.store_mask(desk.session, mask), words=words, count=count, outlines=outlines)
    return row_.id, stacks.add(desk.session, row_.id, mend)


def _off(desk: Desk, stack: int, mend: str) -> None:
    stacks.edit(desk.session, stack, lambda one: one.changed(mends=[m for m in one.mends if m.id != mend]))


Right = Callable[[Scene], bool]


def _one(scene: Scene) -> object:
    return scene.description.figures[0]


def _coloured(name: str) -> Right:
    def right(scene: Scene) -> bool:
        a, b = (rgb_to_lab(np.asarray(c, np.float32)) for c in (scene.description.figures[0].colour_a, CLOTH[name]))
        return float(np.linalg.norm(a - b)) < _LIKE

    return right


def _has(**fields: object) -> Right:
    return lambda scene: all(getattr(_one(scene), name) == value for name, value in fields.items())


def _box(x0: float, y0: float, x1: float, y1: float) -> Mask:
    mask = np.zeros((640, 512), bool)
    mask[int(y0 * 640) : int(y1 * 640), int(x0 * 512) : int(x1 * 512)] = True
    return mask


# Take, what is chosen (a key, or a box), by how much it is grown, words, what the scene must be afterwards.
_OWN: tuple[tuple[int, object, int, str, Right], ...] = (
    *[(n, "1 hair", 12, "silver curls", _has(hair="curls")) for n in (0, 2, 4, 5)],
    *[(n, "1 hair", 8, "long straight hair", _has(hair="long straight")) for n in (0, 4, 5)],
    *[(n, "1 head", 30, "a hat", _has(headwear="hat")) for n in (0, 3, 4, 5)],
    *[(n, "1 head", 26, "a beanie", _has(headwear="cap")) for n in (0, 3, 5)],
    *[(n, "1 head", 26, "a headscarf", _has(headwear="headscarf")) for n in (4, 5)],
    *[(n, "1 face", 4, "glasses", _has(glasses=True)) for n in (0, 3, 4, 5)],
    *[(n, "1 face", 0, "laughing", _has(expression="laughing")) for n in (0, 3, 5)],
    *[(n, "1 eyes", 4, "eyes closed", _has(lids=0.0)) for n in (0, 5)],
    *[(n, "1 clothes", 4, "a red coat", _coloured("brick")) for n in (0, 3, 4)],
    *[(n, "1 clothes", 8, "a rain cape", _has(outfit="rain cape")) for n in (0, 3, 4)],
    *[(n, "1 clothes", 20, "a scarf", lambda scene: "scarf" in scene.description.figures[0].worn) for n in (0, 3, 4)],
    (0, "1 thing in the hand", 24, "make the lantern bigger", lambda scene: scene.description.figures[0].prop_size > 1.1),
    (
        3,
        "1 left hand",
        30,
        "a lantern",
        lambda scene: "lantern" in (scene.description.figures[0].prop, scene.description.figures[0].second_prop),
    ),
    *[(n, _box(0.72, 0.6, 0.98, 0.97), 0, "a lantern", lambda s: any(t.name == "lantern" for t in s.things)) for n in (1, 3)],
    *[(n, _box(0.02, 0.62, 0.3, 0.97), 0, "a fox", lambda s: any(t.name == "fox" for t in s.things)) for n in (1, 3)],
    *[(n, _box(0.68, 0.25, 0.97, 0.93), 0, "an old woman", lambda s: len(s.description.figures) == 2) for n in (1, 3)],
    (0, _box(0, 0, 1, 1), 0, "at night", lambda scene: scene.description.time == "night"),
    (3, _box(0, 0, 1, 1), 0, "in rain", lambda scene: scene.description.weather == "rain"),
)
_GONE: tuple[tuple[int, object, int, str, Right], ...] = (
    (0, "1 thing in the hand", 10, "", _has(prop="nothing")),
    (2, "1 thing in the hand", 10, "", _has(prop="nothing")),
    (3, "1 thing in the hand", 10, "", _has(prop="nothing")),
    (1, "1 hat", 8, "", _has(headwear="none")),
    (2, "1 face", 4, "without glasses", _has(glasses=False)),
    (4, "thing 1", 8, "", lambda scene: scene.description.companion == "nobody"),
    (1, "1 figure", 6, "", lambda scene: 0 in scene.absent),
    (4, "1 figure", 6, "", lambda scene: 0 in scene.absent),
)
Read = Callable[[Reading], bool]


def _reads(attribute: str, value: str) -> Read:
    return lambda reading: reading.attributes.get(attribute, {}).get(value, 0.0) > 0.5


def _not(attribute: str, value: str) -> Read:
    return lambda reading: reading.attributes.get(attribute, {}).get(value, 0.0) < 0.5


_FOREIGN: tuple[tuple[int, object, int, str, Read], ...] = (
    *[(n, "1 head", 30, "a hat", _reads("headwear", "hat")) for n in (0, 3, 4, 5)],
    *[(n, "1 face", 4, "glasses", _reads("glasses", "yes")) for n in (0, 3, 4, 5)],
    *[(n, "1 hair", 10, "silver hair", lambda r: r.attributes.get("hair colour", {}).get("silver", 0) > 0.4) for n in (0, 4, 5)],
    *[(n, "1 hair", 12, "curls", _reads("hair", "curls")) for n in (0, 4, 5)],
    *[(n, "1 face", 0, "laughing", _reads("expression", "laughing")) for n in (0, 3, 5)],
    (0, "1 thing in the hand", 12, "", _not("prop", "lantern")),
    (2, "1 thing in the hand", 12, "", _not("prop", "letter")),
    (1, "1 hat", 8, "", _not("headwear", "hat")),
    (1, "1 figure", 8, "", lambda r: r.main is None or r.main.sure < 0.5),
    (2, "1 face", 4, "without glasses", _not("glasses", "yes")),
)


def _mask(desk: Desk, base: str, chosen: object, grows: int) -> Mask | None:
    if not isinstance(chosen, str):
        return np.asarray(chosen)
    choices = choosing.known(desk.session, base)
    assert choices is not None
    try:
        return grown(choices.mask(chosen), grows)
    except KeyError:
        return None


def _asked(desk: Desk) -> None:
    """Own takes: what was asked, all variants obeying and apart; the outside of a hard mask untouched."""
    for n, (take, chosen, grows, words, right) in enumerate((*_OWN, *_GONE)):
        base = desk.own[take]
        mask = _mask(desk, base, chosen, grows)
        if mask is None:
            desk.missed.append(f"own {take} {words or 'gone'}: {chosen} is not seen")
            continue
        stack, mend = _laid(desk, base, mask, words, 3 if n % 3 == 0 else 1)
        variants = made(desk.session, stack, mend)
        scenes = [explaining.of_picture(desk.session, v.picture_sha256) for v in variants]
        obeyed = [s is not None and any(right(layer.scene) for layer in s.layers) for s in scenes]
        kind = "own" if n < len(_OWN) else "gone"
        desk.there[kind] += obeyed
        if not all(obeyed):
            desk.missed.append(f"own {take} {words or 'gone'}: {variants[0].says}")
        if len(variants) > 1 and kind == "own":
            labs = [rgb_to_lab(pictures.pixels(desk.session, v.picture_sha256).astype(np.float32) / 255)[mask] for v in variants]
            desk.apart += [float(np.linalg.norm(a - b, axis=1).mean()) for a, b in itertools.combinations(labs, 2)]
        if words in ("a hat", "a beanie") and scenes[0] is not None:
            drawn = scenes[0].drawn()
            xs = np.nonzero(drawn.labels == Part.HEADWEAR)[1]
            desk.hats.append(float(np.ptp(xs)) / (2 * drawn.shown[0].head[2]) if len(xs) else 0.0)
        _off(desk, stack, mend)
        if n % 2 == 0:
            stack, mend = _laid(desk, base, mask, words, 1, outlines=False)
            after = pictures.pixels(desk.session, made(desk.session, stack, mend)[0].picture_sha256)
            desk.outside.append(int((after != pictures.pixels(desk.session, base))[~mask].sum()))
            _off(desk, stack, mend)


def _brought(desk: Desk) -> None:
    """Pictures that were not drawn here, judged by the reader."""
    for take, chosen, grows, words, right in _FOREIGN:
        base = desk.foreign[take]
        mask = _mask(desk, base, chosen, grows)
        if mask is None:
            desk.missed.append(f"foreign {take} {words or 'gone'}: {chosen} is not seen")
            desk.there["foreign"].append(False)
            continue
        stack, mend = _laid(desk, base, mask, words)
        (variant,) = made(desk.session, stack, mend)
        found = right(read(pictures.pixels(desk.session, variant.picture_sha256)))
        desk.there["foreign"].append(found)
        if not found:
            desk.missed.append(f"foreign {take} {words or 'gone'}: {variant.says}")
        _off(desk, stack, mend)


def _instructed(desk: Desk) -> float:
    """The share of instructions that change something, or are told what is not known."""
    heard = []
    for words in _INSTRUCTIONS:
        stack, mend = _laid(desk, desk.own[0], _box(0, 0, 1, 1), words)
        (variant,) = made(desk.session, stack, mend)
        changed = variant.picture_sha256 != desk.own[0]
        told = any("nothing changes" in s or "known here" in s or "keeps the size" in s for s in variant.says)
        heard.append((changed and bool(variant.says)) or told)
        if not heard[-1]:
            desk.missed.append(f"instruction “{words}”: {variant.says}")
        _off(desk, stack, mend)
    return float(np.mean(heard))


_EIGHT: tuple[tuple[str, int, str, Right], ...] = (
    ("1 hair", 10, "silver hair", lambda scene: True),
    ("1 face", 4, "glasses", _has(glasses=True)),
    ("1 face", 0, "laughing", _has(expression="laughing")),
    ("1 clothes", 16, "a scarf", lambda scene: "scarf" in scene.description.figures[0].worn),
    ("1 eyes", 2, "green eyes", _has(eyes="green")),
    ("1 head", 26, "a hat", _has(headwear="hat")),
    ("1 face", 0, "freckles", _has(freckles=True)),
    ("1 thing in the hand", 12, "", _has(prop="nothing")),
)


def _stacked(desk: Desk) -> float:
    """A stack of eight with the lowest re-worded: the share of the upper ones that are right afterwards."""
    base, session = desk.own[0], desk.session
    stack = stacks.opened(session, desk.shot.id, base).id
    for chosen, grows, words, _ in _EIGHT:
        on = mends.standing_of(session, stack).top
        assert on is not None
        maps.make(session, choosing.key_of(on))
        mask = _mask(desk, on, chosen, grows)
        assert mask is not None
        _, mend = _laid(desk, base, mask, words)
        mends.accept(session, stack, made(session, stack, mend)[0].id)
    lowest = mends.standing_of(session, stack).heights[0].mend.id
    stacks.edit_mend(session, stack, lowest, lambda one: one.model_copy(update={"words": "moss green hair"}))
    while mends.to_redo(session, stack) is not None:
        made(session, stack, "", redo=True)
    scenes = explaining.of_picture(session, str(mends.standing_of(session, stack).top))
    right = [scenes is not None and any(one(layer.scene) for layer in scenes.layers) for _, _, _, one in _EIGHT[1:]]
    desk.missed += [f"of the stack: {asked[2] or 'gone'}" for asked, fine in zip(_EIGHT[1:], right, strict=True) if not fine]
    stacks.edit(session, stack, lambda one: one.changed(mends=[]))
    return float(np.mean(right))


def _carried(desk: Desk) -> float:
    """The share of masks that lie on the right part of ten other takes."""
    source = choosing.known(desk.session, desk.own[0])
    assert source is not None
    right = []
    for n in range(10):
        words = f"a girl with a copper braid in a festival coat, holding a lantern, {('half figure', 'full figure')[n % 2]}"
        take = make_take(Recipe(words=words, width=512, height=640), 9300 + n)
        assert take.explained is not None
        target = choices_of_drawing(take.explained.drawn(), take.explained.scene)
        known = {c.key for c in target.choices}
        for key in ("1 hair", "1 face", "1 thing in the hand", "1 head"):
            if key not in known:
                continue
            try:
                mask, own = carried_mask(grown(source.mask(key), 4), source, target), target.mask(key)
            except Nowhere:
                right.append(False)
                continue
            right.append(bool((mask & own).sum() > 0.95 * own.sum() and (mask & ~grown(own, 14)).sum() < 0.05 * mask.sum()))
    return float(np.mean(right))


def measure() -> list[Row]:
    with bench_studio() as studio:
        engine = connect(studio.url)
        make_session: sessionmaker[Session] = sessions(engine)
        with make_session.begin() as session:
            desk = started(session)
            _asked(desk)
            _brought(desk)
            instructed, stacked, carried = _instructed(desk), _stacked(desk), _carried(desk)
        engine.dispose()
    for missed in desk.missed:
        print(f"  not so: {missed}")
    there = desk.there
    return [
        row(f"mends of own takes: asked thing there, of {len(there['own'])}", float(np.mean(there["own"])), "share", ">= 0.95"),
        row(f"mends of own takes: taken away, of {len(there['gone'])}", float(np.mean(there["gone"])), "share", ">= 0.95"),
        row(
            f"mends of brought pictures: there or gone by the reader, of {len(there['foreign'])}",
            float(np.mean(there["foreign"])),
            "share",
            ">= 0.8",
        ),
        row(f"mends: values changed outside a hard mask, of {len(desk.outside)}", float(max(desk.outside)), "values", "<= 0"),
        row("mends: widest hat", max(desk.hats), "heads", "<= 1.8"),
        row("mends: variants apart in the mask, mean pairwise ΔE", float(np.mean(desk.apart)), "ΔE", ">= 6"),
        row(f"mends: instructions understood or told, of {len(_INSTRUCTIONS)}", instructed, "share", ">= 1"),
        row("mends: stack of eight, the lowest re-worded, upper ones right", stacked, "share", ">= 0.9"),
        row("mends: carried over to ten takes, on the right part", carried, "share", ">= 0.95"),
    ]
