"""Contents of a picture that was drawn here: what its stored scenes say, which is exact."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.reading.contents import Contents, Subject
from mosskeeper.core.traits import OF_FIGURE, OF_PLACE

_ALL = {trait.name: 1.0 for trait in OF_FIGURE}
_FIELDS = tuple(dict.fromkeys(name for trait in OF_FIGURE for name in trait.fields))
_EARS = [AT["right ear"], AT["left ear"]]
_MARGIN = 0.1  # of the frame, by which a head may lie outside of it and still be seen


def contents_of_scenes(explained: LayeredScenes) -> Contents:
    """What the scenes of a picture hold.

    explained : the scenes, from the lowest to the uppermost. Of several layers each figure is taken from the one that is seen most where its head is; the surroundings are those of the
    layer that covers most.
    """
    shares = explained.shares()
    widest = explained.layers[int(np.argmax([share.mean() for share in shares]))].scene
    most = max((layer.scene for layer in explained.layers), key=lambda scene: len(scene.postures))
    subjects = []
    for n in range(len(most.postures)):
        seen = [(share, one.scene) for share, one in zip(shares, explained.layers, strict=True) if n < len(one.scene.postures)]
        scene = max(seen, key=lambda pair: _share_at(pair[0], pair[1], n))[1]
        subjects.append(Subject(who(scene.description.figures[n]), _ALL, {}, head_of(scene, n)))
    surroundings = {name: (str(getattr(widest.description, name)), 1.0) for name in (*OF_PLACE, "figure")}
    return Contents(tuple(subjects), surroundings, tuple(widest.description.finish), 1.0, "scene")


def who(person: Person) -> Person:
    """A person with their traits alone: without expression, pose, place in the frame and what they hold."""
    return Person(**{name: getattr(person, name) for name in _FIELDS})


def _share_at(share: NDArray[np.float32], scene: Scene, n: int) -> float:
    """How much of a layer is seen where figure `n`'s head is; 0 where that is outside of the frame."""
    head = head_of(scene, n)
    if head is None:
        return 0.0
    h, w = share.shape
    return float(share[min(max(int(head[1] * h), 0), h - 1), min(max(int(head[0] * w), 0), w - 1)])


def head_of(scene: Scene, n: int) -> tuple[float, float, float] | None:
    """x, y and height of figure `n`'s head as shares of the picture; None where it is not in the frame, or the figure is gone."""
    if n in scene.absent:
        return None
    (w, h), spot, held = scene.size, scene.camera.spots[n], scene.postures[n]
    person = scene.description.figures[n]
    facing, head = person.layout.facing, body_of(person.subject, person.build, person.figure).head
    at = held.joints[_EARS].mean(0) * (facing, 1) * spot.scale + spot.origin
    x, y = float(at[0] / w), float(at[1] / h)
    if not (-_MARGIN < x < 1 + _MARGIN and -_MARGIN < y < 1 + _MARGIN):
        return None
    return x, y, float(spot.scale * head / h)
