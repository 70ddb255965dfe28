"""What comes at an awkward moment or in an awkward form: two runs of one shot, huge photographs, zeros, addresses."""

import io

import httpx
import numpy as np
import pytest
from PIL import Image
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.words.understand import understand
from mosskeeper.studio import library, pictures, runs, shots, working
from mosskeeper.studio.models import Shot
from tests.conftest import SMALL, lay_out

HTMX = {"HX-Request": "true"}
Sessions = sessionmaker[Session]


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        return lay_out(session)


def photograph() -> bytes:
    """A JPEG with the noise of a sensor: as PNG it would have far more than what is taken at once."""
    rng = np.random.default_rng(1)
    noisy = rng.integers(0, 255, (2600, 2600, 3), np.uint8)
    out = io.BytesIO()
    Image.fromarray(noisy).save(out, "JPEG", quality=40)
    return out.getvalue()


@pytest.mark.statistics
def test_a_large_photograph_is_scaled_down_once_and_its_file_kept(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    data = photograph()
    answer = client.post(f"/shots/{shot.id}/pictures", files={"picture": ("photo.jpg", data)}, headers=HTMX)
    assert answer.status_code == 200
    assert "scaled down from 2600 × 2600 to 2048 × 2048 px" in answer.text
    with make_session() as session:
        sha256 = shots.draft(shots.find(session, shot.id)).cues[0].picture or ""
        assert pictures.pixels(session, sha256).shape == (2048, 2048, 3)  # stored as it can be read again
    assert client.get(f"/pictures/{sha256}/original").content == data
    small = client.get(f"/pictures/{'0' * 64}/original")
    assert small.status_code == 404


def test_the_first_of_two_runs_is_shown_until_it_ends_and_then_the_second(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        first, second = (runs.create(session, shots.find(session, shot.id), SMALL) for _ in range(2))
        working.begin(session, first.id, "test")
    page = client.get(f"/shots/{shot.id}").text
    assert f'data-run="{first.id}" data-state="running"' in page
    assert "1 more run of this shot waits behind it" in page
    with make_session.begin() as session:
        take = working.store_take(session, first.id, 0, 5, np.full((320, 256, 3), 90, np.uint8), 1.0)
        working.end(session, runs.find(session, first.id), "done")
    told = client.get(f"/shots/{shot.id}/live", params={"run": first.id, "state": "running", "made": 0}, headers=HTMX).text
    assert f'data-run="{second.id}" data-state="waiting"' in told
    assert take.picture_sha256 in told  # the take of the first stands on the table


@pytest.mark.parametrize("name", ["scene", "character", "outfit"])
def test_nobody_and_nowhere_may_be_said_as_zero(client: httpx.Client, shot: Shot, name: str) -> None:
    for address in (f"/shots/{shot.id}/recast", f"/stories/{shot.story_id}/shots"):
        assert client.post(address, data={name: "0"}).status_code == 303


def test_pictures_are_found_by_several_words_whatever_joins_them(make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        sha256 = pictures.store(session, np.full((40, 32, 3), 40, np.uint8), "x", "upload").sha256
        library.add(session, sha256, "upload", "Study", shot.story_id, None, "woman, brown hair")
    with make_session() as session:
        for words in ("woman with brown hair", "a woman, brown hair", "brown hair", "Study of a woman"):
            assert [one.picture_sha256 for one in library.search(session, library.SearchQuery(words=words)).entries] == [sha256], words


def test_a_web_address_is_no_words_and_says_how_to_bring_the_picture() -> None:
    for address in ("https://example.org/a/cat.png", "www.example.org/girl.jpg", "data:image/png;base64,catgirl"):
        read = understand(f"in the kitchen, {address}")
        assert read.wanted == {"place": {"kitchen": 1.0}}
        assert [span.note for span in read.instructions] == [
            "The studio fetches nothing from the network. Save the picture, and drop its file on the page."
        ]
