"""Words and board in one scene, by a weight: 0 as the words have it … 1 as the board has it.

Places, sizes, joints and numbers of the light go over linearly; names that only the board says change at a weight of
their own; the place goes over from far to near; what the words do not know grows from its foot. Colours go over half in
the drawing, half by the pull on each part. The method is ours.
"""

from __future__ import annotations

from collections.abc import Container, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import cv2
import numpy as np

from mosskeeper.core.boards.lighting import disc_between, light_between
from mosskeeper.core.boards.read import BoardRead
from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64, Mask, ReadShape, grown
from mosskeeper.core.boards.standing import FigureStance, placed, standing
from mosskeeper.core.boards.tones import rgb_of
from mosskeeper.core.illustrator.camera import Camera
from mosskeeper.core.illustrator.description import MOST_FIGURES, Description, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.places import OPEN_COUNTRY, PLACES, place_called
from mosskeeper.core.illustrator.places.open_country import HORIZON
from mosskeeper.core.illustrator.scene import Rough, Scene, posture_of, scene_of
from mosskeeper.core.illustrator.vocabulary.colours import HAIR_COLOURS, named
from mosskeeper.core.illustrator.vocabulary.light import light_of
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN
from mosskeeper.core.pictures.colour import rgb_to_lab

_WHOLE = 0.999  # weight from which the board's place is all that is seen
_LOOK = (128, 160)  # px of the drawings by which places are known
_CHILD = 0.74  # height of a figure over that of another, from which it is a child
_DEPTHS = 21
_FRAMES = {"full": (1.0, 0.0, 0.625), "half": (1.3, 0.9, 0.55), "bust": (1.75, 2.2, 0.55)}  # zoom, blur, middle of the place
_HALF_FROM = 0.36  # head height over the picture's, from which a cut figure is a bust
_LEAST_THICK = 1.5  # px of the reading: thinner shapes are slips of the brush
_COMES = 0.03  # weight from which somebody whom only the board knows is there


@dataclass(frozen=True, eq=False)
class Composed:
    """A scene that a board moved, and what the pull needs of the board.

    matched : the figure's index in the scene, and what the board has of it.
    """

    scene: Scene
    read: BoardRead
    weight: float
    matched: tuple[tuple[int, FigureOnBoard], ...] = ()


def compose(base: Scene, read: BoardRead, said: list[Container[str]], weight: float, held: Sequence[float] = ()) -> Composed:
    """The scene of words and board.

    Parameters
    ----------
    base : the words' scene, at the picture's size.
    said : attributes that words name, of the first figure (and the picture), of the second …
    weight : 0 the words' scene itself … 1 the board's.
    held : for each figure, the share by which a pose holds where and how it stands: a board moves it by as much less.
    """
    w = float(np.clip(weight, 0, 1))
    if w <= 0 or not read.shapes:
        return Composed(base, read, 0.0)
    soft, k = soft_share(w), base.size[1] / read.size[1]
    of_picture = said[0] if said else ()
    matched = _matched(base, read)
    scene = base
    for n, seen in matched:
        fixed = held[n] if n < len(held) else 0.0
        scene = _exchanged(scene, n, placed(standing(base, n), seen, k, w, soft, said[n] if n < len(said) else (), fixed))
    if w >= _COMES:
        for seen in read.figures:
            if len(scene.postures) < MOST_FIGURES and not any(seen is one for _, one in matched):
                matched.append((len(scene.postures), seen))
                scene = figure_joined(scene, seen, read, k, w)
    place = _place_for(base.description.place, read, of_picture)
    moving = place != base.description.place
    here = place if w >= _WHOLE else base.description.place
    view = _view(base, scene.camera, matched[0][1] if matched else None, k, w * (1 - (held[0] if held else 0.0)))
    view = _on_horizon(view, base, place, read, k, w)
    own = base.light or light_of(base.description.time, base.description.light, base.description.weather)
    scene = replace(
        scene,
        description=replace(scene.description, place=here, weather=_weather(base.description, read, of_picture, w)),
        camera=view,
        light=light_between(base, read, of_picture, w, soft),
        disc=disc_between(base, own, read, w),
        farther=(place, _depth_at(w, base.description.place)) if moving and w < _WHOLE else None,
        roughs=roughs_of(read, w),
        ground=tuple(rgb_of(c) for c in read.ground) if read.ground is not None and place == OPEN_COUNTRY else (),
    )
    return Composed(scene, read, w, tuple(matched))


def soft_share(weight: float) -> float:
    """By how much colours go over in the drawing, and once more by the pull: together, by the weight."""
    return float(1 - np.sqrt(1 - min(weight, 1.0)))


def _weather(d: Description, read: BoardRead, said: Container[str], w: float) -> str:
    """Weather that no word names would veil what was painted."""
    return d.weather if "weather" in said or read.sky is None or w < 0.5 else "clear"


# -- figures ----------------------------------------------------------------------------------------------------------


def _exchanged(scene: Scene, n: int, one: FigureStance) -> Scene:
    spots = list(scene.camera.spots)
    spots[n] = one.spot
    return replace(scene.with_person(n, one.person, one.held), camera=replace(scene.camera, spots=tuple(spots)))


def _matched(base: Scene, read: BoardRead) -> list[tuple[int, FigureOnBoard]]:
    """Which figure of the words is which of the board: by colours of cloth and hair, and by height."""
    free, out = list(read.figures), list[tuple[int, FigureOnBoard]]()
    for n, p in enumerate(base.description.figures):
        if not free:
            break

        def cost(f: FigureOnBoard, p: Person = p) -> float:
            c = 0.0
            for name, own in (("upper", np.array(p.colour_a)), ("hair", named(HAIR_COLOURS, p.hair_colour))):
                if name in f.colours:
                    c += float(np.linalg.norm(f.colours[name] - rgb_to_lab(own)))
            smaller = sum(f.height < g.height for g in read.figures)
            much = sum(f.height < _CHILD * g.height for g in read.figures)  # a grown-up is none of those
            return c + (-40 * smaller if p.subject in CHILDREN else 60 * much) - 0.002 * f.height

        best = min(free, key=cost)
        free = [f for f in free if f is not best]
        out.append((n, best))
    return out


def figure_joined(scene: Scene, seen: FigureOnBoard, read: BoardRead, k: float, w: float) -> Scene:
    """The scene with somebody whom only the board knows, growing from the feet."""
    tallest = max(f.height for f in read.figures)
    grown_up = "woman" if seen.long_hair else "man"
    child = "girl" if seen.long_hair else "boy"
    subject = child if not seen.cut and seen.height < _CHILD * tallest else grown_up
    person = Person(subject=subject, layout=Layout(pose="facing", framing="full"))
    held = posture_of(person)
    start = scene_of(Description(layout=person.layout, subject=subject), scene.size).camera.spots[0]
    one = placed(FigureStance(person, held, start), seen, k, 1.0, 1.0, ())
    size = one.spot.scale * w
    spots = (*scene.camera.spots, replace(one.spot, scale=size))
    d = replace(scene.description, others=(*scene.description.others, one.person))
    mixed = (*scene.mixed, None) if scene.mixed else ()
    return replace(scene, description=d, postures=(*scene.postures, one.held), camera=replace(scene.camera, spots=spots), mixed=mixed)


# -- camera and place -------------------------------------------------------------------------------------------------


def _view(base: Scene, view: Camera, seen: FigureOnBoard | None, k: float, w: float) -> Camera:
    """The camera of the place: as near as the first figure of the board asks."""
    if seen is None:
        return view
    h = base.size[1]
    framing = "full" if not seen.cut else "half" if seen.head[2] * k < _HALF_FROM * h else "bust"
    zoom, blur, middle = _FRAMES[framing]
    x, y = (a * (1 - w) + b * w for a, b in zip(base.camera.centre, (0.5, middle), strict=True))
    blur = base.camera.blur * (1 - w) + blur * w
    if framing == "full" and w > 0.5:
        blur = 0.0
    return replace(view, framing=framing if w > 0.5 else view.framing, zoom=base.camera.zoom * (1 - w) + zoom * w, centre=(x, y), blur=blur)


def _depth_at(w: float, leaving: str) -> float:
    """From which depth on another place is seen: evenly by how much of the picture that is, since places are not evenly deep."""
    return float(np.interp(1 - w, np.linspace(0, 1, _DEPTHS), place_look(leaving).depths)) + 1e-3


def _on_horizon(view: Camera, base: Scene, place: str, read: BoardRead, k: float, w: float) -> Camera:
    """The camera with the horizon, or the floor's edge, on its way to the board's."""
    if read.horizon is None:
        return view
    width, h = base.size
    first, last = (place_look(name).horizon for name in (base.description.place, place))
    own = (first - base.camera.centre[1]) * base.camera.zoom * max(width, h / 1.25) + h / 2
    row = float(np.clip(own, 0, 1.2 * h) * (1 - w) + read.horizon * k * w)
    return replace(_centred(view, first * (1 - w) + last * w, place, row, base.size), horizon=row)


def centred_on(view: Camera, place: str, row: float, size: tuple[int, int]) -> Camera:
    """The camera with a place's horizon, or its floor's edge, in a row (px) of a picture of `size`, as far as the place goes on."""
    return _centred(view, place_look(place).horizon, place, row, size)


def _centred(view: Camera, horizon: float, place: str, row: float, size: tuple[int, int]) -> Camera:
    width, h = size
    centre = horizon - (row - h / 2) / (view.zoom * max(width, h / 1.25))
    reach = 0.625 * min(1.25 * width, h) / h / view.zoom
    lowest, highest = (-0.38 + reach, 1.8 - reach) if place_called(place).outdoors else (0.42, 0.80)
    return replace(view, centre=(view.centre[0], float(np.clip(centre, lowest, max(lowest, highest)))))


@dataclass(frozen=True, slots=True, eq=False)
class PlaceLook:
    horizon: float  # place coordinate of the horizon, or the floor's edge
    above: F64  # (3,) mean colour, 0…1
    below: F64
    depths: F64  # (_DEPTHS,) quantiles of how far away what is not sky is


@lru_cache(32)
def place_look(name: str) -> PlaceLook:
    """How a place looks at noon when nobody is there."""
    if name == OPEN_COUNTRY:
        return PlaceLook(HORIZON, np.zeros(3), np.zeros(3), np.linspace(0, 1, _DEPTHS))
    scene = scene_of(Description(place=name, layout=Layout(framing="full")), _LOOK)
    scene = replace(scene, absent=frozenset({0}), camera=replace(scene.camera, zoom=1.0, centre=(0.5, 0.625), blur=0.0))
    drawn = draw_scene(scene)
    low = np.isin(drawn.labels, (Part.GROUND, Part.WATER)).mean(1)
    row = next((y for y in range(_LOOK[1] - 10, 20, -1) if low[y - 6 : y].mean() < 0.5), 80)
    above, below = (part.reshape(-1, 3).mean(0) / 255 for part in (drawn.image[:row], drawn.image[row:]))
    solid = drawn.depth[drawn.labels != Part.SKY]
    return PlaceLook(row / _LOOK[0], above, below, np.quantile(solid, np.linspace(0, 1, _DEPTHS)))


def _place_for(own: str, read: BoardRead, said: Container[str]) -> str:
    """The words' place where they name one; else the board's own country, or the place that looks nearest to its wall and floor."""
    if "place" in said or read.sky is None:
        return own
    if not read.wall:
        return OPEN_COUNTRY if read.ground is not None else own
    up = read.sky.mean(0)
    down = (read.ground if read.ground is not None else read.sky).mean(0)

    def far(name: str) -> float:
        look = place_look(name)
        return float(np.linalg.norm(rgb_to_lab(look.above) - up) + 0.5 * np.linalg.norm(rgb_to_lab(look.below) - down))

    green = up[1] < -8
    return min((p for p in PLACES if green or not PLACES[p].outdoors), key=far)


# -- things -----------------------------------------------------------------------------------------------------------


def roughs_of(read: BoardRead, w: float) -> tuple[Rough, ...]:
    """The board's other shapes; those that touch grow from one foot, and water goes on behind who stands before it."""
    out, size = list[Rough](), np.array(read.size)
    found = [s for s in read.of("tree", "trunk", "cloud", "hill", "window", "light", "thing") if s.thick > _LEAST_THICK]
    for s in sorted(found, key=lambda s: (s.kind == "tree", s.box[3])):
        near = grown(s.mask, 7)
        foot = max((t for t in found if t is s or (t.kind == "trunk" and (t.mask & near).any())), key=lambda t: t.box[3])
        at = np.array(s.centre) if s.kind == "cloud" else np.array([(foot.box[0] + foot.box[2]) / 2, foot.box[3]])
        x, y = map(float, at / size)
        out.append(Rough(s.kind, outline_of(s.mask), rgb_of(s.lab), (x, y), w))
    return (*_waters(read, w), *out)


def _waters(read: BoardRead, w: float) -> list[Rough]:
    out, seen = list[Rough](), list[ReadShape]()
    for s in read.of("water"):
        if any(np.array_equal(s.lab, t.lab) for t in seen):
            continue
        seen.append(s)
        mask = np.any([t.mask for t in read.of("water") if np.array_equal(s.lab, t.lab)], axis=0)
        outline = np.array(outline_of(_closed(mask)))
        if mask.any(0).mean() > 0.6:  # from border to border
            outline[:, 0] = np.where(outline[:, 0] < 0.03, -0.05, np.where(outline[:, 0] > 0.97, 1.05, outline[:, 0]))
        points = tuple((float(x), float(y)) for x, y in outline)
        out.append(Rough("water", points, rgb_of(s.lab), (0.5, float(outline[:, 1].max())), w))
    return out


def _closed(mask: Mask) -> Mask:
    """Water with what stood before it filled: between its leftmost and rightmost column."""
    xs = np.nonzero(mask.any(0))[0]
    top, low = mask.argmax(0)[xs], mask.shape[0] - mask[::-1].argmax(0)[xs]
    across = np.arange(xs[0], xs[-1] + 1)
    upper = np.minimum(np.interp(across, xs, top), np.median(top) + 3)
    lower = np.maximum(np.interp(across, xs, low), np.median(low) - 3)
    outline = np.concatenate([np.stack([across, upper], 1), np.stack([across, lower], 1)[::-1]])
    whole = np.zeros(mask.shape, np.uint8)
    cv2.fillPoly(whole, [np.round(outline).astype(np.int32)], 1)
    return np.asarray(whole > 0)


def outline_of(mask: Mask) -> tuple[tuple[float, float], ...]:
    """The outline of a mask's largest area, shares of width and height."""
    contours, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    c = cv2.approxPolyDP(max(contours, key=cv2.contourArea), 1.2, True)[:, 0].astype(float) + 0.5
    if len(c) < 3:
        c = np.array([[c[0, 0] - 1, c[0, 1]], [c[0, 0] + 1, c[0, 1]], [c[0, 0], c[0, 1] + 1]])
    return tuple((float(x), float(y)) for x, y in c / (mask.shape[1], mask.shape[0]))
