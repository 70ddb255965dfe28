"""What the reader sees, over HTTP."""

import json

import httpx
import numpy as np
import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.pictures.decode import decode
from mosskeeper.studio import maps, pictures, readings

HTMX = {"HX-Request": "true"}
FIGURE = draw(Description(layout=Layout(framing="full")), (192, 240)).image
POINTS = json.dumps([[0.5, 0.1 + 0.04 * k] for k in range(18)])


@pytest.fixture
def address(make_session: sessionmaker[Session]) -> str:
    with make_session.begin() as session:
        sha256 = pictures.store(session, FIGURE, "a figure", "upload").sha256
        readings.of_picture(session, sha256)
        return f"/pictures/{sha256}"


def test_a_picture_that_was_not_read_yet_says_so_and_asks_for_it(client: httpx.Client, make_session: sessionmaker[Session]) -> None:
    with make_session.begin() as session:
        sha256 = pictures.store(session, FIGURE, "a figure", "upload").sha256
    page = client.get(f"/pictures/{sha256}/reading")
    assert (page.status_code, "is being read" in page.text) == (200, True)
    assert f'data-waits="reading {sha256}"' in page.text
    for _ in range(2):  # who asks twice waits once
        assert client.post(f"/pictures/{sha256}/reading").status_code == 204
    with make_session() as session:
        assert session.scalar(text("select count(*) from procrastinate_jobs where task_name = 'read'")) == 1


@pytest.mark.statistics
def test_the_page_tells_which_reader_read_the_picture(client: httpx.Client, address: str) -> None:
    page = client.get(f"{address}/reading")
    assert page.status_code == 200
    assert "reader of drawings" in page.text
    assert page.text.count('class="joint') == 18


@pytest.mark.statistics
def test_points_are_kept_and_exported(client: httpx.Client, address: str) -> None:
    answer = client.post(f"{address}/points", data={"points": POINTS}, headers=HTMX)
    assert "18 of 18 points, placed by hand" in answer.text
    exported = client.get(f"{address}/keypoints.json").json()
    assert np.allclose(exported["annotations"][0]["keypoints"][:2], (0.5 * 192, 0.1 * 240), atol=0.6)


@pytest.mark.statistics
@pytest.mark.parametrize(
    "points, told", [("[[1", "cannot be understood"), ("[[0.1, 0.2]]", "at least 3"), ('{"a": 1}', "cannot be understood")]
)
def test_points_that_cannot_be_used_are_told_in_words(client: httpx.Client, address: str, points: str, told: str) -> None:
    answer = client.post(f"{address}/points", data={"points": points}, headers=HTMX)
    assert answer.status_code == 422
    assert told in answer.text


def test_a_file_without_key_points_is_told_in_words(client: httpx.Client, address: str) -> None:
    answer = client.post(f"{address}/keypoints", files={"keypoints": ("x.json", b"no json", "application/json")}, headers=HTMX)
    assert answer.status_code == 422
    assert "not readable as JSON" in answer.text


@pytest.mark.statistics
@pytest.mark.parametrize("kind", ["parts", "depth", "edges", "lines", "tone"])
def test_every_map_is_made_when_asked_and_of_the_same_size(
    client: httpx.Client, make_session: sessionmaker[Session], address: str, kind: str
) -> None:
    assert client.get(f"{address}/maps/{kind}.png").status_code == 404
    assert client.post(f"{address}/maps/{kind}").status_code == 202
    with make_session.begin() as session:
        maps.make(session, maps.of_picture(kind, address.rsplit("/", 1)[1]))
    assert client.post(f"{address}/maps/{kind}").status_code == 204
    answer = client.get(f"{address}/maps/{kind}.png")
    assert answer.headers["content-type"] == "image/png"
    assert decode(answer.content).rgb_u8.shape == FIGURE.shape


@pytest.mark.statistics
def test_an_unknown_map_or_picture_is_not_found(client: httpx.Client, address: str) -> None:
    assert client.get(f"{address}/maps/soul.png").status_code == 404
    assert client.get(f"/pictures/{'0' * 64}/reading").status_code == 404
