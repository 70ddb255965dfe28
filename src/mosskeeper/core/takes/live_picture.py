"""Live pictures: while a hand draws on a board, the picture that a take would be, small and at once.

What words, references and seed chose is kept; only the boards are composed anew. The same choice and boards give the same
bytes. Numbers are rounded a little, so that a stroke that hardly changes them finds what was painted for the last one.
"""

from __future__ import annotations

from collections.abc import Callable, Container, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.boards.pull import pulled
from mosskeeper.core.illustrator.camera import Camera, Spot
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.kept import LayerCache
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.illustrator.vocabulary.light import Light
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import Structure
from mosskeeper.core.takes.boards import BoardControl, acting, on_boards
from mosskeeper.core.takes.make import ILLUSTRATOR, Make
from mosskeeper.core.takes.pose import held_by, posed_by
from mosskeeper.core.takes.take import chosen

AREA = 256 * 320  # px of a live picture
_TONE = 32  # levels to which colours of the light are rounded
_TURN = np.pi / 6  # and its direction


@dataclass(frozen=True, slots=True, eq=False)
class ChosenScene:
    """What words, references and seed chose, before any board: the scene, and what is said of each figure.

    free : no pose is in it yet, since none changes what is chosen.
    """

    scene: Scene
    said: list[Container[str]]
    free: bool


def choose(
    recipe: Recipe,
    seed: int,
    pictures: Mapping[str, NDArray[np.uint8]],
    readings: Mapping[str, Reading],
    make: Make = ILLUSTRATOR,
    should_stop: Callable[[], bool] = lambda: False,
) -> ChosenScene:
    """What a take of the recipe would be without its boards; the arguments are those of `make_take`.

    Raises Stopped where `should_stop` said so.
    """
    free = not searches(recipe, pictures)
    cues = [cue for cue in recipe.cues if not (free and cue.role == "pose")]
    own = recipe.model_copy(update={"cues": cues})
    return ChosenScene(*chosen(own, seed, pictures, readings, make, should_stop), free)


def searches(recipe: Recipe, pictures: Mapping[str, NDArray[np.uint8]]) -> bool:
    """Whether cues of structure choose the composition: then poses take part in the choice."""
    return any(c.acts and isinstance(role(c.role), Structure) and not acting(c, pictures) for c in recipe.cues)


@dataclass(frozen=True, slots=True, eq=False)
class Poses:
    """The pose cues that move a choice."""

    cues: Sequence[Cue] = ()
    readings: Mapping[str, Reading] = field(default_factory=dict)
    steps: int = 20


@dataclass(frozen=True, slots=True, eq=False)
class LivePicture:
    """A live picture (h, w, 3), and the scene that it was drawn from."""

    image: NDArray[np.uint8]
    scene: Scene


def live_picture(choice: ChosenScene, boards: Sequence[BoardControl], kept: LayerCache, poses: Poses | None = None) -> LivePicture:
    """The small picture of a choice, its poses and its boards, about AREA px, the same bytes for the same arguments."""
    start = choice.scene
    if poses is not None and choice.free:
        start = scene_of(posed_by(start.description, poses.cues, poses.readings, poses.steps, start.size), start.size, start.rendered)
    composed = on_boards(start, boards, choice.said, () if poses is None else held_by(poses.cues, poses.readings, poses.steps))
    scene = composed[-1].scene if composed else start
    small = rounded(scene.resized(min(1.0, float(np.sqrt(AREA / (scene.size[0] * scene.size[1]))))))
    drawn = draw_scene(small, layers=kept, detailed=False)
    image = drawn.image
    for one in composed:
        image = pulled(drawn, replace(one, scene=small), 2, image)
    return LivePicture(image, small)


def rounded(scene: Scene) -> Scene:
    """The scene with its numbers rounded by what is hardly seen in a small picture."""
    view = scene.camera
    spots = tuple(Spot(float(np.exp(np.round(np.log(s.scale) * 50) / 50)), np.round(s.origin)) for s in view.spots)
    camera: Camera = replace(
        view,
        spots=spots,
        zoom=round(view.zoom, 2),
        centre=(round(view.centre[0], 2), round(view.centre[1] * 90) / 90),
        blur=round(view.blur, 1),
        horizon=float(round(view.horizon)),
    )
    ground = tuple((round(r * 9) / 9, round(g * 9) / 9, round(b * 9) / 9) for r, g, b in scene.ground)
    return replace(scene, camera=camera, light=None if scene.light is None else _rounded(scene.light), ground=ground)


def _rounded(light: Light) -> Light:
    def tone(hexadecimal: str) -> str:
        return "".join(f"{min(255, int(hexadecimal[i : i + 2], 16) // _TONE * _TONE + _TONE // 2):02x}" for i in (0, 2, 4))

    angle = np.round(np.arctan2(light.direction[1], light.direction[0]) / _TURN) * _TURN
    zenith, middle, low = map(tone, light.sky)
    return replace(light, sky=(zenith, middle, low), fog=tone(light.fog), direction=(float(np.cos(angle)), float(np.sin(angle))))
