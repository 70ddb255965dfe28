"""People cut out of pictures: soft at the hair, without anything of the ground in the rim."""

import cv2
import numpy as np
import pytest

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.matting import cut_out

PLACES = ("canal market", "roof garden", "fern house", "night train")


def share_without_ground(picture: np.ndarray, mask: np.ndarray, rgba: np.ndarray) -> float:
    """Of the rim's pixels, how many are at least 10 Lab units away from the ground beside them."""
    alpha = rgba[..., 3]
    rim = (alpha > 20) & (alpha < 235)
    beyond = (cv2.dilate(mask.astype(np.uint8), np.ones((5, 5), np.uint8)) == 0).astype(np.float32)
    near = cv2.GaussianBlur(beyond, (0, 0), 6)
    ground = cv2.GaussianBlur(picture.astype(np.float32) * beyond[..., None], (0, 0), 6) / np.maximum(near, 1e-3)[..., None]
    rim &= near > 0.05
    ours, theirs = (rgb_to_lab((x / 255).astype(np.float32)) for x in (rgba[..., :3][rim], ground[rim]))
    return float((np.linalg.norm(ours - theirs, axis=1) >= 10).mean())


def test_the_rim_of_own_takes_has_nothing_of_the_ground() -> None:
    shares = []
    for n, place in enumerate(PLACES):
        d = draw(Description(place=place, layout=Layout("standing", "bust", ground=n)), (320, 400))
        mask = d.figures == 1
        shares.append(share_without_ground(d.image, mask, cut_out(d.image, mask)))
    assert np.mean(shares) >= 0.9, shares


def test_the_edge_is_soft_and_the_inside_is_the_picture() -> None:
    d = draw(Description(hair="curls", layout=Layout("standing", "bust")), (320, 400))
    mask = d.figures == 1
    rgba = cut_out(d.image, mask)
    inside = cv2.erode(mask.astype(np.uint8), np.ones((9, 9), np.uint8), borderValue=1) > 0
    assert (rgba[inside][:, :3] == d.image[inside]).all()
    assert (rgba[inside][:, 3] == 255).all()
    assert (rgba[..., 3][cv2.dilate(mask.astype(np.uint8), np.ones((9, 9), np.uint8)) == 0] == 0).all()
    assert ((rgba[..., 3] > 0) & (rgba[..., 3] < 255)).sum() > 200


@pytest.mark.parametrize("mask", [np.zeros((40, 32), bool), np.ones((41, 32), bool)])
def test_nothing_and_what_does_not_fit_is_refused(mask: np.ndarray) -> None:
    with pytest.raises(ValueError):
        cut_out(np.zeros((40, 32, 3), np.uint8), mask)
