"""What a picture holds, by the surest way there is: its own scenes, those of the picture it is a copy of, or inversion."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.reading.contents import Contents
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.references.copies import Features, contents_of_copy, find_copy
from mosskeeper.core.references.of_picture import contents_of_picture
from mosskeeper.core.references.of_scene import contents_of_scenes


def resolved(
    picture: NDArray[np.uint8],
    reading: Reading,
    features: Features,
    own: LayeredScenes | None,
    known: Iterable[tuple[str, Features]],
    load: Callable[[str], tuple[NDArray[np.uint8], LayeredScenes | None]],
) -> Contents:
    """What a picture (H, W, 3) holds.

    Parameters
    ----------
    reading, features : of the picture. own : its scenes, where it was drawn here.
    known : names and features of pictures that were drawn here. load : gives the pixels and the scenes of one of them.
    """
    if own is not None:
        return contents_of_scenes(own)
    copy = find_copy(picture, features, known, lambda name: load(name)[0])
    scenes = None if copy is None else load(copy.name)[1]
    if copy is not None and scenes is not None:
        return contents_of_copy(contents_of_scenes(scenes), copy, scenes.size, (picture.shape[1], picture.shape[0]))
    return contents_of_picture(picture, reading)
