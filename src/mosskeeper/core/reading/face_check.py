"""Whether a face serves as a reference: its size, turn, sharpness, light, what covers it, and how many figures stand beside it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.measures import measure
from mosskeeper.core.reading.reading import SURE, FigureRead, Reading

_AT = {name: i for i, name in enumerate(LANDMARKS)}
_NOSE = 2.9  # of a head: twice the sine of the angle to an eye, over how far the nose stands out before the eyes
_THREE_QUARTERS = 0.8  # turn of such a head
_SIDE = 75.0  # degrees: seen from the side above
_MUCH_TURNED = 35.0
_SMALL, _LARGE_ENOUGH = 48, 96  # px of head height
_BLURRED = 0.22  # sharpness below which detail is lost
_DARK, _BRIGHT = 0.16, 0.93  # mean lightness
_COVERED = 0.25  # share of landmarks
_ROUND_THE_FACE = (
    *(f"{side} {name}" for side in ("right", "left") for name in ("pupil", "brow middle", "cheek", "jaw")),
    "chin",
    "nose tip",
    "mouth right",
    "mouth left",
)


@dataclass(frozen=True, slots=True)
class FaceCheck:
    """height : px of the head. turn : degrees, 0 from in front … 90 from the side, positive towards the picture's right.
    light, covered, sharpness : None where the face was not read closely."""

    found: bool
    height: int = 0
    turn: float | None = None
    sharpness: float | None = None
    light: float | None = None  # 0 dark … 1 bright
    covered: float | None = None  # share of the face's points
    figures: int = 0
    verdicts: tuple[str, ...] = ()  # in words, with what to do; none where all is well

    @property
    def good(self) -> bool:
        return self.found and not self.verdicts


def turn_of(figure: FigureRead, aspect: float) -> float | None:
    """Degrees by which a head is turned away from the viewer; None where that was not read.

    Drawings: as the reader read it, three quarters being 45°. Photographs: out of the places of nose and eyes.
    aspect : width over height of the picture.
    """
    if figure.held is not None:
        turn = figure.held[0]
        if _most_likely(figure, "view") == "profile":
            return float(np.copysign(90, turn))
        return float(np.clip(turn / _THREE_QUARTERS, -1.3, 1.3) * 45)
    if figure.landmarks is None:
        return None
    at = figure.landmarks * (aspect, 1)
    right, left = (at[[_AT[f"{side} eye outer"], _AT[f"{side} eye inner"]]].mean(0) for side in ("right", "left"))
    across, tip = left - right, at[_AT["nose tip"]]
    apart = float(np.hypot(*across))
    if not (apart > 1e-6 and np.isfinite(tip).all()):
        return None
    aside = float((tip - (left + right) / 2) @ across) / apart
    return float(np.degrees(np.arctan(_NOSE * aside / apart)))


def _most_likely(figure: FigureRead, attribute: str) -> str | None:
    values = figure.attributes.get(attribute, {})
    return max(values, key=lambda value: values[value]) if values else None


def check_face(picture: NDArray[np.uint8], reading: Reading) -> FaceCheck:
    """Checks the main face of a picture (H, W, 3) that was read."""
    main = reading.main
    if main is None or main.head is None or main.face_sure < SURE * 0.5:
        return FaceCheck(
            False, figures=len(reading.figures), verdicts=("No face was found: choose a picture in which it is seen clearly.",)
        )
    h, w = picture.shape[:2]
    x, y, height = main.head[0] * w, main.head[1] * h, main.head[2] * h
    half = height * 0.5
    crop = picture[max(round(y - half), 0) : max(round(y + half), 1), max(round(x - half), 0) : max(round(x + half), 1)]
    told = measure(np.ascontiguousarray(fitted(crop, (256, 256)))) if crop.size else None
    turn = turn_of(main, w / h)
    check = FaceCheck(
        True,
        round(height),
        turn,
        told.sharpness if told else None,
        told.lightness if told else None,
        _covered(main, turn),
        len(reading.figures),
    )
    return FaceCheck(True, check.height, check.turn, check.sharpness, check.light, check.covered, check.figures, _verdicts(check))


def _covered(figure: FigureRead, turn: float | None) -> float | None:
    if figure.landmark_confidence is None or _few_points(figure):
        return None
    if turn is not None and abs(turn) > _SIDE:
        return None  # half of the face is turned away, not covered
    return float((figure.landmark_confidence[[_AT[name] for name in _ROUND_THE_FACE]] < SURE * 0.5).mean())


def _few_points(figure: FigureRead) -> bool:
    """Readers of photographs give five points: too few to tell what is covered."""
    return figure.landmark_confidence is not None and int((figure.landmark_confidence > 0).sum()) <= 5


def _verdicts(check: FaceCheck) -> tuple[str, ...]:
    out = []
    if check.height < _LARGE_ENOUGH:
        much = "far too small" if check.height < _SMALL else "small"
        out.append(f"The head is {check.height} px high, {much}: a portrait, or the same picture enlarged, holds the face better.")
    if check.turn is not None and abs(check.turn) > _MUCH_TURNED:
        out.append(f"Turned {abs(check.turn):.0f}° away: a front view holds the face better.")
    if check.sharpness is not None and check.sharpness < _BLURRED:
        out.append("Blurred: fine marks of the face are lost. Enlarge and redraw it, or take a sharper one.")
    if check.light is not None and not _DARK <= check.light <= _BRIGHT:
        out.append(f"Very {'dark' if check.light < _DARK else 'bright'}: the colours of skin and eyes can hardly be read.")
    if check.covered is not None and check.covered > _COVERED:
        out.append(f"{check.covered:.0%} of the face is covered: hair, hands or shadow take its place in the likeness.")
    if check.figures > 1:
        out.append(f"{check.figures} figures: the largest is taken. Cut the picture to one of them to be sure.")
    return tuple(out)
