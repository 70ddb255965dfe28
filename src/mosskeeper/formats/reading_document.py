"""Readings as documents: JSON for what can be named, compressed arrays for maps and vectors."""

from __future__ import annotations

import io
from typing import Any

import numpy as np

from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.reading.contents import Contents
from mosskeeper.core.reading.palette import Palette
from mosskeeper.core.reading.reading import FigureRead, Reading, Rgb

FORMAT = 3  # changes with what a reading holds: stored ones of another format are made anew
_MAP = 127  # levels of the depth map


def pack(reading: Reading) -> tuple[dict[str, Any], bytes]:
    """A reading as (JSON document, arrays in NumPy's compressed format)."""
    arrays: dict[str, Any] = {"lab": reading.palette.lab, "area": reading.palette.area}
    if reading.depth is not None:
        arrays["depth"] = np.round(reading.depth * _MAP).astype(np.uint8)
    if reading.parts is not None:
        arrays["parts"] = reading.parts
    figures = []
    for n, f in enumerate(reading.figures):
        arrays |= {f"{n}-joints": f.joints, f"{n}-joint-confidence": f.joint_confidence, f"{n}-mask": np.packbits(f.mask)}
        if f.landmarks is not None and f.landmark_confidence is not None:
            arrays |= {f"{n}-landmarks": f.landmarks, f"{n}-landmark-confidence": f.landmark_confidence}
        if f.identity is not None:
            arrays[f"{n}-identity"] = f.identity
        figures.append(
            {
                "sure": f.sure,
                "box": f.box,
                "head": f.head,
                "attributes": f.attributes,
                "colours": f.colours,
                "held": f.held,
                "face_sure": f.face_sure,
                "mask": f.mask.shape,
                "face": None if f.face is None else f.face.as_array().tolist(),
            }
        )
    document = {
        "format": FORMAT,
        "reader": reading.reader,
        "version": reading.version,
        "attributes": reading.attributes,
        "figures": figures,
        "contents": None if reading.contents is None else reading.contents.to_json(),
    }
    buffer = io.BytesIO()
    np.savez_compressed(buffer, **arrays)
    return _plain(document), buffer.getvalue()


def unpack(document: dict[str, Any], data: bytes) -> Reading:
    """The reading that was packed. Raises KeyError or ValueError where it is not one of this format."""
    if document["format"] != FORMAT:
        raise ValueError(f"this reading has format {document['format']}, not {FORMAT}")
    with np.load(io.BytesIO(data), allow_pickle=False) as arrays:
        figures = tuple(_figure(told, n, dict(arrays)) for n, told in enumerate(document["figures"]))
        depth = arrays["depth"].astype(np.float32) / np.float32(_MAP) if "depth" in arrays else None
        parts = arrays.get("parts", None)
        palette = Palette(arrays["lab"], arrays["area"])
    main = figures[0] if figures else None
    return Reading(
        palette,
        document["attributes"],
        main.face if main else None,
        main.colours if main else {},
        main.sure_joints if main else None,
        depth,
        parts,
        figures,
        document["reader"],
        document["version"],
        None if document["contents"] is None else Contents.from_json(document["contents"]),
    )


def as_stored(reading: Reading) -> Reading:
    """The reading as it is after it was stored, to the last bit: maps are kept in fewer levels."""
    return unpack(*pack(reading))


def _all_landmarks(values: Any, unread: float) -> Any:
    """One value a landmark, also of readings that were stored when there were fewer landmarks."""
    if values is None or len(values) == len(LANDMARKS):
        return values
    beyond = np.full((len(LANDMARKS) - len(values), *values.shape[1:]), unread, values.dtype)
    return np.concatenate([values, beyond])


def _figure(told: dict[str, Any], n: int, arrays: dict[str, Any]) -> FigureRead:
    h, w = told["mask"]
    colours: dict[str, Rgb] = {name: (rgb[0], rgb[1], rgb[2]) for name, rgb in told["colours"].items()}
    return FigureRead(
        told["sure"],
        tuple(told["box"]),
        None if told["head"] is None else tuple(told["head"]),
        arrays[f"{n}-joints"],
        arrays[f"{n}-joint-confidence"],
        np.unpackbits(arrays[f"{n}-mask"], count=h * w).reshape(h, w).astype(bool),
        told["attributes"],
        colours,
        _all_landmarks(arrays.get(f"{n}-landmarks"), np.nan),
        _all_landmarks(arrays.get(f"{n}-landmark-confidence"), 0.0),
        None if told["face"] is None else Face.from_array(np.asarray(told["face"], float)),
        None if told["held"] is None else tuple(told["held"]),
        arrays.get(f"{n}-identity"),
        told["face_sure"],
    )


def _plain(value: Any) -> Any:
    """The same of Python's own types, which JSON knows."""
    if isinstance(value, dict):
        return {key: _plain(v) for key, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [_plain(v) for v in value]
    return value.item() if isinstance(value, np.generic) else value
