"""What a picture was drawn from: its scene, and the scenes that were laid over it by masks.

A take made from words has one scene; one with regions or mends has more, each seen where its mask is open.
"""

from __future__ import annotations

import base64
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import ILLUSTRATOR, Scene
from mosskeeper.core.pictures.resample import linear

VERSION = 1  # of the document
MOST_LAYERS = 8
_UNSEEN = 1e-4  # share of the picture below which a layer shows nothing


@dataclass(frozen=True, slots=True, eq=False)
class SceneLayer:
    """A scene, and where it is seen."""

    scene: Scene
    mask: NDArray[np.uint8] | None = None  # (H, W), 255 where it lies over what is below; None: everywhere


@dataclass(frozen=True, slots=True, eq=False)
class LayeredScenes:
    """The scenes of a picture, from the lowest to the uppermost. The lowest is everywhere."""

    layers: tuple[SceneLayer, ...]
    illustrator: int = ILLUSTRATOR  # the version of the illustrator that drew it

    def __post_init__(self) -> None:
        if not self.layers or self.layers[0].mask is not None:
            raise ValueError("the lowest scene of a picture is everywhere")
        if any(one.mask is None or one.mask.shape != self.size[::-1] for one in self.layers[1:]):
            raise ValueError("each scene that lies over another needs a mask of the picture's size")

    @staticmethod
    def of(scenes: Sequence[Scene], shares: Sequence[NDArray[np.float32]] = ()) -> LayeredScenes:
        """What is drawn from scenes by shares (H, W) that sum to one; one scene needs none."""
        if len(scenes) == 1:
            return LayeredScenes((SceneLayer(scenes[0]),))
        return LayeredScenes((SceneLayer(scenes[0]), *_stacked(scenes, shares)[1:]))

    @property
    def size(self) -> tuple[int, int]:
        return self.layers[0].scene.size

    @property
    def scene(self) -> Scene:
        """The uppermost: what the picture shows since its last change."""
        return self.layers[-1].scene

    @property
    def holds(self) -> bool:
        """Whether today's illustrator draws these scenes as they were drawn."""
        return self.illustrator == ILLUSTRATOR

    def shares(self) -> list[NDArray[np.float32]]:
        """(H, W) 0…1 for each layer: how much of the picture it is there. They sum to one."""
        left = np.ones(self.size[::-1], np.float32)
        out: list[NDArray[np.float32]] = []
        for one in self.layers[:0:-1]:
            assert one.mask is not None
            own = left * (one.mask.astype(np.float32) / np.float32(255))
            out.append(own)
            left = np.asarray(left - own, np.float32)
        return [left, *reversed(out)]

    def resized(self, k: float) -> LayeredScenes:
        """The scenes of a picture `k` times as large."""
        first = self.layers[0].scene.resized(k)
        layers = [SceneLayer(first)]
        for one in self.layers[1:]:
            assert one.mask is not None
            layers.append(SceneLayer(one.scene.resized(k), linear(one.mask, first.size)))
        return replace(self, layers=tuple(layers))

    def drawn(self) -> Drawing:
        """The picture drawn anew, with its albedo; maps are those of the layer that is seen most."""
        return composite([draw_scene(one.scene, with_albedo=True) for one in self.layers], self.shares())

    def with_mend(self, changed: Sequence[Scene], mask: NDArray[np.float32]) -> LayeredScenes:
        """With every layer changed where a mask (H, W) 0…1 is open.

        Layers of which nothing is seen any more are dropped; of too many the lowest are given up.
        """
        own = self.shares()
        above = _stacked(changed, [np.asarray(share * mask, np.float32) for share in own])
        kept = [one for one, share in zip(self.layers, own, strict=True) if (share * (1 - mask)).mean() > _UNSEEN]
        layers = [*kept, *(one for one in above if one.mask is not None and one.mask.mean() / 255 > _UNSEEN)][-MOST_LAYERS:]
        return LayeredScenes((SceneLayer(layers[0].scene), *layers[1:])) if layers else self

    def to_json(self) -> dict[str, Any]:
        layers = [{"scene": one.scene.to_json(), "mask": None if one.mask is None else _packed(one.mask)} for one in self.layers]
        return {"version": VERSION, "illustrator": self.illustrator, "layers": layers}

    @staticmethod
    def from_json(document: dict[str, Any]) -> LayeredScenes:
        """Raises ValueError where the document is none, damaged, or of a version that is not known here."""
        if document.get("version") != VERSION:
            raise ValueError(f"scenes of version {document.get('version')!r} are not known here")
        try:
            layers = [
                SceneLayer(Scene.from_json(one["scene"]), None if one["mask"] is None else _unpacked(one["mask"]))
                for one in document["layers"]
            ]
            return LayeredScenes(tuple(layers), int(document["illustrator"]))
        except (KeyError, TypeError, AttributeError):
            raise ValueError("these scenes are damaged") from None


def _stacked(scenes: Sequence[Scene], shares: Sequence[NDArray[np.float32]]) -> list[SceneLayer]:
    """Scenes from below to above with the masks by which each is seen as much as its share says."""
    left, out = np.ones(shares[0].shape, np.float32), list[SceneLayer]()
    for scene, share in zip(reversed(scenes), reversed(shares), strict=True):
        out.append(SceneLayer(scene, _byte(np.asarray(share / np.maximum(left, 1e-6), np.float32))))
        left = np.asarray(left - share, np.float32)
    return out[::-1]


def composite(drawings: Sequence[Drawing], shares: Sequence[NDArray[np.float32]]) -> Drawing:
    """One drawing of several of a size: colours mixed by shares that sum to one, maps of the one that is seen most."""
    if len(drawings) == 1:
        return drawings[0]
    most = np.argmax(np.stack(shares), axis=0)
    image = np.sum([d.image * m[..., None] for d, m in zip(drawings, shares, strict=True)], axis=0) + 0.5

    def chosen(name: str) -> NDArray[Any]:
        maps = np.stack([getattr(d, name) for d in drawings])
        picks = most.reshape(1, *most.shape, *[1] * (maps.ndim - 3))
        return np.asarray(np.take_along_axis(maps, picks, 0)[0])

    return replace(
        drawings[-1],
        image=np.clip(image, 0, 255).astype(np.uint8),
        labels=chosen("labels"),
        figures=chosen("figures"),
        depth=chosen("depth"),
        albedo=chosen("albedo"),
    )


def _byte(mask: NDArray[np.float32]) -> NDArray[np.uint8]:
    return np.asarray(np.clip(mask * 255 + 0.5, 0, 255), np.uint8)


def _packed(mask: NDArray[np.uint8]) -> str:
    done, data = cv2.imencode(".png", mask, [cv2.IMWRITE_PNG_COMPRESSION, 9])
    assert done
    return base64.b64encode(data.tobytes()).decode()


def _unpacked(text: str) -> NDArray[np.uint8]:
    mask = cv2.imdecode(np.frombuffer(base64.b64decode(text), np.uint8), cv2.IMREAD_GRAYSCALE)
    if mask is None:
        raise ValueError("the mask of a scene is damaged")
    return np.asarray(mask, np.uint8)
