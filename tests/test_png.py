import io

import numpy as np
import pytest
from PIL import Image, PngImagePlugin

from mosskeeper.core.errors import BadRecipe
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.png import RECIPE_CHUNK, XMP_CHUNK, recipe_of, with_recipe

PIXELS = np.random.default_rng(0).integers(0, 255, (20, 30, 3), np.uint8)
RECIPE = Recipe(words="a girl, “quoted” & <marked> ß", seed=12, count=1)


def carrying(document: str) -> bytes:
    info = PngImagePlugin.PngInfo()
    info.add_itxt(RECIPE_CHUNK, document, zip=True)
    out = io.BytesIO()
    Image.fromarray(PIXELS).save(out, "PNG", pnginfo=info)
    return out.getvalue()


def test_a_recipe_travels_inside_the_picture_and_pixels_stay() -> None:
    data = with_recipe(encode_png(PIXELS), RECIPE, "Shot, take 1")
    assert recipe_of(data) == RECIPE
    assert np.array_equal(decode(data).rgb_u8, PIXELS)


def test_the_picture_says_that_it_is_algorithmic_media() -> None:
    image = Image.open(io.BytesIO(with_recipe(encode_png(PIXELS), RECIPE, 'A "title" & more')))
    xmp = image.info[XMP_CHUNK]
    assert "digitalsourcetype/algorithmicMedia" in xmp
    assert "Moss Keeper" in xmp
    assert "&amp; more" in xmp


def test_pictures_without_a_recipe_have_none() -> None:
    assert recipe_of(encode_png(PIXELS)) is None
    assert recipe_of(b"not a picture") is None
    assert recipe_of(b"") is None


@pytest.mark.parametrize("document", ["{broken", '{"version": 7}', "[]", '{"version": 1, "count": 99}'])
def test_a_broken_or_newer_recipe_is_refused(document: str) -> None:
    with pytest.raises(BadRecipe):
        recipe_of(carrying(document))
