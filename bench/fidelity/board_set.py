"""Boards as artists rough them out, drawn by code, and what is true of them. The second half was drawn after boards could be read."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

SIZE = (512, 640)
Point = tuple[float, float]


@dataclass
class Roughed:
    """A board. figures : boxes of all figures. joints : of stick figures, by joint. disc : where the sun or moon is. silent : what the
    words name that the board says nothing of: attribute and value.
    """

    name: str
    words: str
    picture: NDArray[np.uint8] = field(default_factory=lambda: np.zeros((SIZE[1], SIZE[0], 4), np.uint8))
    figures: list[tuple[float, float, float, float]] = field(default_factory=list)
    joints: list[dict[str, Point]] = field(default_factory=list)
    disc: Point | None = None
    silent: dict[str, str] = field(default_factory=dict)
    cut: bool = False
    pots: dict[str, str] = field(default_factory=dict)

    def ink(self, paint: Callable[[NDArray[np.uint8]], object], colour: str) -> Roughed:
        mask = np.zeros(self.picture.shape[:2], np.uint8)
        paint(mask)
        self.picture[mask > 127] = (*(int(colour[i : i + 2], 16) for i in (0, 2, 4)), 255)
        return self

    def blob(self, points: Sequence[Point], colour: str) -> Roughed:
        return self.ink(lambda m: cv2.fillPoly(m, [np.round(points).astype(np.int32)], 255), colour)

    def down(self, y: float, colour: str, wave: float = 0) -> Roughed:
        """Everything from a height down."""
        x = np.linspace(0, SIZE[0], 24)
        top = list(zip(x, y + wave * np.sin(x / 60 + y), strict=True))
        return self.blob([*top, (SIZE[0], SIZE[1]), (0, SIZE[1])], colour)

    def oval(self, x: float, y: float, rx: float, ry: float, colour: str) -> Roughed:
        return self.ink(lambda m: cv2.ellipse(m, (round(x), round(y)), (round(rx), round(ry)), 0, 0, 360, 255, -1), colour)

    def sun(self, x: float, y: float, r: float, colour: str) -> Roughed:
        self.disc = (x, y)
        return self.oval(x, y, r, r, colour)

    def line(self, points: Sequence[Point], width: float, colour: str) -> Roughed:
        return self.ink(lambda m: cv2.polylines(m, [np.round(points).astype(np.int32)], False, 255, round(width), cv2.LINE_8), colour)

    def somebody(
        self, x: float, top: float, foot: float, wide: float, hair: str, skin: str, upper: str, lower: str | None = None, long: bool = True
    ) -> Roughed:
        """Hair, face, a coat that widens, legs of another colour where there is one."""
        high = foot - top
        r, hem = high / 9.6, foot if lower is None else top + high * 0.6
        self.oval(x, top + 1.3 * r, 1.25 * r, 1.3 * r, hair)
        if long:
            self.blob([(x - 1.25 * r, top + r), (x + 1.25 * r, top + r), (x + 1.4 * r, top + 3.5 * r), (x - 1.4 * r, top + 3.5 * r)], hair)
        if lower is not None:
            for s in (-1, 1):
                leg = [
                    (x + s * wide * 0.05, hem - 5),
                    (x + s * wide * 0.4, hem - 5),
                    (x + s * wide * 0.34, foot),
                    (x + s * wide * 0.1, foot),
                ]
                self.blob(leg, lower)
        coat = [(x - 0.4 * wide, top + 2.7 * r), (x + 0.4 * wide, top + 2.7 * r), (x + 0.5 * wide, hem), (x - 0.5 * wide, hem)]
        self.blob(coat, upper)
        self.oval(x, top + 1.6 * r, 0.9 * r, r, skin)
        self.figures.append((x - wide / 2, top, x + wide / 2, foot))
        return self

    def sticks(self, head: tuple[float, float, float], width: float, colour: str, **at: Point) -> Roughed:
        """Neck, hips, and on the picture's left and right: elbow e, wrist w, knee k, ankle a."""
        x, y, r = head
        self.ink(lambda m: cv2.circle(m, (round(x), round(y)), round(r), 255, round(width)), colour)
        chains = (("neck", "hips"), ("neck", "le", "lw"), ("neck", "re", "rw"), ("hips", "lk", "la"), ("hips", "rk", "ra"))
        for chain in chains:
            self.line([at[n] for n in chain], width, colour)
        self.line([(x, y + r), at["neck"]], width, colour)
        names = {"le": "right elbow", "lw": "right wrist", "re": "left elbow", "rw": "left wrist", "lk": "right knee", "la": "right ankle"}
        names |= {"rk": "left knee", "ra": "left ankle"}
        self.joints.append({names[n]: p for n, p in at.items() if n in names})
        p = np.array([*at.values(), (x - r, y), (x + r, y), (x, y - r)])
        x0, y0, x1, y1 = (float(v) for v in (*p.min(0), *p.max(0)))
        self.figures.append((x0, y0, x1, y1))
        return self

    def softened(self, seed: int) -> Roughed:
        """As a soft brush leaves it, with grain."""
        rng = np.random.default_rng(seed)
        alpha = self.picture[..., 3:].astype(np.float32) / 255
        rgb = cv2.GaussianBlur(self.picture[..., :3].astype(np.float32) * alpha + 248 * (1 - alpha), (0, 0), 1.7)
        rgb += cv2.resize(rng.normal(0, 4, (80, 64, 3)).astype(np.float32), SIZE) + rng.normal(0, 3, rgb.shape)
        soft = cv2.GaussianBlur(self.picture[..., 3], (0, 0), 1.7)
        self.picture = np.dstack([np.clip(rgb, 0, 255).astype(np.uint8), soft])
        return self

    def wobbled(self, seed: int) -> Roughed:
        """As an unsteady hand draws it."""
        rng = np.random.default_rng(seed)
        gx, gy = np.meshgrid(np.arange(SIZE[0], dtype=np.float32), np.arange(SIZE[1], dtype=np.float32))
        dx, dy = (cv2.resize(rng.normal(0, 5, (22, 18)).astype(np.float32), SIZE, interpolation=cv2.INTER_CUBIC) for _ in range(2))
        self.picture = cv2.remap(self.picture, gx + dx, gy + dy, cv2.INTER_NEAREST, borderMode=cv2.BORDER_REPLICATE)
        return self


def boards() -> list[Roughed]:
    return [*_first(), *_later()]


def _first() -> list[Roughed]:
    hill = Roughed("on a hill", "woman with ginger hair in a tunic, smiling", silent={"expression": "joyful"})
    hill.down(0, "9cc8e6").down(420, "86a653", 9).sun(96, 92, 34, "ffdf70").somebody(
        330, 230, 590, 140, "b9512b", "efc19d", "8b3f6b", "3b4557"
    )

    shore = Roughed("by the water", "a girl in a dress, waving", silent={"pose": "waving"})
    shore.down(0, "d4e8ee").down(320, "4b8cab").down(430, "e2cc98", 5).oval(150, 90, 72, 24, "fdfdfd").somebody(
        190, 280, 590, 150, "3a2a22", "d9a47c", "d8b23c"
    )

    three = Roughed("three", "a woman, a man and a girl")
    three.down(0, "b4d6e6").down(440, "a5967a").somebody(110, 250, 590, 110, "d9b45c", "f0c7a5", "40668c", "2f3138")
    three.somebody(265, 210, 595, 130, "2c2526", "b9845f", "6c5a3c", "3c4048", False).somebody(
        415, 350, 590, 96, "9a4a28", "eec3a0", "b8434a"
    )

    inked = Roughed("stick dancer", "girl in a red tunic in a garden", silent={"outfit": "tunic"})
    inked.sticks(
        (250, 150, 42),
        9,
        "2c2c2c",
        neck=(252, 212),
        hips=(256, 360),
        le=(180, 170),
        lw=(130, 100),
        re=(330, 230),
        rw=(395, 180),
        lk=(220, 455),
        la=(206, 560),
        rk=(330, 430),
        ra=(350, 545),
    )

    face = Roughed("portrait", "portrait of a woman with glasses", cut=True)
    face.down(0, "7f9a86").oval(270, 290, 168, 190, "5a3a28").blob([(104, 300), (436, 300), (446, 560), (96, 560)], "5a3a28")
    face.blob([(40, 640), (120, 515), (430, 515), (500, 640)], "a03c46").oval(270, 325, 118, 148, "efc6a4")
    face.figures.append((40, 100, 500, 640))

    night = Roughed("moon", "a woman with a lantern, half figure, at night", cut=True, silent={"prop": "lantern"})
    night.down(0, "15204a").down(480, "22332e").sun(400, 120, 40, "f2eed6").oval(230, 260, 92, 104, "2a2028").oval(
        230, 280, 68, 82, "e4b590"
    )
    night.blob([(128, 392), (332, 392), (382, 640), (78, 640)], "9a4330")
    night.figures.append((78, 156, 382, 640))

    empty = Roughed("country alone", "a quiet country, nobody near, wide view")
    empty.down(0, "f0c99a").down(300, "d98f6a").down(380, "5c5a48", 6).sun(370, 330, 42, "fff2c0")
    return [hill, shore, three, inked, face, night, empty]


def _later() -> list[Roughed]:
    room = Roughed("indoors", "an old woman in the kitchen", silent={"place": "kitchen"})
    room.down(0, "c8a06e").down(470, "74523a").blob([(320, 90), (450, 90), (450, 240), (320, 240)], "c4e2f0")
    room.somebody(180, 210, 600, 150, "d6d6d8", "e2b48f", "56749c", "5c4652", False)

    soft = Roughed("soft brush", "a man in a coat at dusk")
    soft.down(0, "6a5a92").down(190, "cf7f86").down(330, "f0ae72").down(420, "5e4a46").somebody(
        250, 300, 590, 120, "2e2626", "c18a64", "3c5470", None, False
    )
    soft.softened(5)

    child = Roughed("a child's drawing", "a girl with yellow hair by a tree")
    child.down(0, "a8dcf4").down(470, "6cbf4a", 4).sun(440, 70, 46, "ffe14a").blob([(96, 300), (136, 300), (140, 520), (92, 520)], "8a5a34")
    child.oval(116, 230, 100, 92, "3f9a3c").somebody(330, 300, 600, 150, "f2cf4e", "f7cfae", "e0483e", "3c56a8")
    child.wobbled(3)

    thing = Roughed("with a thing", "woman in a rain cape")
    thing.down(0, "b9c6ce").down(430, "8b8a80").blob([(360, 330), (470, 330), (470, 560), (360, 560)], "7c5a40")
    thing.somebody(190, 240, 600, 150, "4a2e24", "edc19c", "d6a62e", "3a3f48")

    stride = Roughed("walker in lines", "old man in a knitted jumper at noon", silent={"time": "noon"})
    stride.down(0, "acd4e6").down(440, "c6b184").sun(84, 86, 32, "fff0a2")
    stride.sticks(
        (322, 186, 34),
        8,
        "382a2a",
        neck=(318, 238),
        hips=(312, 372),
        le=(262, 300),
        lw=(284, 372),
        re=(382, 288),
        rw=(424, 346),
        lk=(256, 452),
        la=(200, 548),
        rk=(370, 452),
        ra=(386, 558),
    )

    pair = Roughed("two and the moon", "a girl and an old man at night")
    pair.down(0, "1a2754").down(430, "2c3a3c").sun(96, 100, 36, "eceada").somebody(
        180, 350, 590, 100, "d2a548", "f0c8a6", "a83a44", "2f2c3a"
    )
    pair.somebody(350, 240, 600, 132, "cfd0d4", "cf9f7c", "4c6480", "30343c", False)

    wood = Roughed("between trunks", "woman in a cloak on a forest path", silent={"place": "forest path"})
    wood.down(0, "41704a").down(440, "775a3e").blob([(60, 0), (104, 0), (112, 480), (52, 480)], "493525").blob(
        [(410, 0), (448, 0), (462, 470), (400, 470)], "493525"
    )
    wood.somebody(250, 300, 570, 120, "2e2420", "e6b68f", "a32a2e")

    potted = Roughed(
        "from pots", "a boy", pots={"9a9ad0": "skin", "77aa66": "hair", "c0c040": "cloth", "aa7799": "ground", "ddbb88": "sky"}
    )
    potted.down(0, "ddbb88").down(450, "aa7799").somebody(260, 260, 600, 140, "77aa66", "9a9ad0", "c0c040", None, False)
    return [room, soft, child, thing, stride, pair, wood, potted]
