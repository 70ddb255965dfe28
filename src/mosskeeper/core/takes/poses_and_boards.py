"""Poses and boards in a mend: what the hand gave moves and colours who stands in the picture already."""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.standing import placed, standing
from mosskeeper.core.boards.touched import Touch
from mosskeeper.core.diffusion.conditioning import EARLY, amount_of
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.posing.retarget import PosedBody, in_frame, retargeted
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue
from mosskeeper.core.takes.boards import BoardControl
from mosskeeper.core.takes.pose import TAKES_HANDS, skeleton_of

F64 = NDArray[np.float64]
_HEAD = [AT[name] for name in ("right ear", "left ear")]


@dataclass(frozen=True, eq=False)
class ByHand:
    """poses : (cue, joints as shares of width and height, amount) of the pose cues that act. boards : those that act."""

    poses: tuple[tuple[Cue, F64, float], ...]
    boards: tuple[BoardControl, ...]

    def __call__(self, scene: Scene, before: Drawing, whose: int | None, told: list[str], said: Container[str]) -> Scene:
        """The scene with its figure `whose` posed, and with what the boards have. Adds to `told`."""
        for cue, joints, amount in self.poses:
            if whose is None:
                told.append("the mask is of nobody: the pose moves nobody")
            else:
                scene = _posed(scene, whose, cue, joints, amount)
                told.append("posed")
        for board in self.boards:
            scene = Touch(board.read, board.weight).on(scene, before, told, said)
        return scene


def by_hand(cues: Sequence[Cue], boards: Sequence[BoardControl], readings: Mapping[str, Reading], steps: int) -> ByHand | None:
    """What poses and boards among the cues do in a mend; None where there are none."""
    poses = []
    for cue in cues:
        joints = skeleton_of(cue, readings) if cue.acts and cue.role == "pose" else None
        amount = min(1.0, amount_of(cue, steps, EARLY))
        if joints is not None and amount > 0:
            poses.append((cue, joints, amount))
    return ByHand(tuple(poses), tuple(boards)) if poses or boards else None


def _posed(scene: Scene, n: int, cue: Cue, joints: F64, amount: float) -> Scene:
    """A figure on its way to a pose. One that was read in another picture is taken where the figure stands, on its own body."""
    own, size = standing(scene, n), scene.size
    facing = own.person.layout.facing
    if cue.skeleton is None or cue.own_body:
        body = retargeted(PosedBody(joints * size), body_of(own.person.subject, own.person.build, own.person.figure))
        stands = (own.spot.origin + own.held.joints * (facing, 1) * own.spot.scale) / size
        joints = in_frame(body, stands if cue.skeleton is None else joints, size).joints
    wanted = joints * size
    head = wanted[_HEAD].mean(0) if np.isfinite(wanted[_HEAD]).all() else wanted[AT["neck"]] - (0, 1)
    on_board = FigureOnBoard(
        (0.0, 0.0, float(size[0]), float(size[1])), np.zeros((1, 1), bool), head=(float(head[0]), float(head[1]), 1.0), joints=wanted
    )
    one, spots = placed(own, on_board, 1.0, amount, 0.0, ()), list(scene.camera.spots)
    spots[n], held = one.spot, one.held
    if amount >= TAKES_HANDS:
        held = replace(held, hands=cue.hands or held.hands, behind=tuple(cue.behind))
    return replace(scene.with_person(n, one.person, held), camera=replace(scene.camera, spots=tuple(spots)))
