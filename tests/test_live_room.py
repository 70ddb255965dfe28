"""A live room: what is told it, what it knows, and the newest that it answers; and from where rooms come."""

import asyncio
import contextlib
import io
import os
import signal
import threading
from pathlib import Path

import numpy as np
import pytest
from bench.fidelity.board_set import boards

from mosskeeper.core.posing.book import entry, figures_of, placed
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.live_picture.pool import RoomLost, Rooms
from mosskeeper.live_picture.room import Answer, Ask, LiveRequest, Painted, Room, board_cue, packed, read, unpacked
from tests.conftest import wait_for
from tests.processes import parent_of, rooms_of

RECIPE = Recipe(words="a girl in a red tunic in the bell tower", width=256, height=320, steps=4)
BOARD = next(b for b in boards() if b.name == "on a hill").picture


def words(recipe: Recipe = RECIPE, **pictures: np.ndarray) -> LiveRequest:
    return LiveRequest(recipe, 5, pictures, {})


def painted(rgba_u8: np.ndarray = BOARD, at: tuple[int, int] = (0, 0), weight: float = 0.8) -> Painted:
    return Painted((512, 640), at, rgba_u8, board_cue(None, weight))


def pose(name: str) -> Cue:
    (one,) = placed(figures_of(entry(name)), None, (256, 320))
    return Cue(role="pose", skeleton=[(float(x), float(y)) for x, y in one.joints], weight=1, end=100)


@pytest.fixture
def room() -> Room:
    made = Room()
    made.take(Ask(1, words(), None))
    return made


def test_a_changed_rectangle_is_laid_into_the_board_that_is_known(room: Room) -> None:
    room.take(Ask(2, None, painted()))
    before, told = room.live()
    assert any(one.kind == "figure" for one in told)
    whole = BOARD.copy()
    whole[400:640] = (200, 60, 60, 255)
    room.take(Ask(3, None, painted(whole[400:640], (0, 400))))
    part, _ = room.live()
    fresh = Room()
    fresh.take(Ask(1, words(), painted(whole)))
    assert (part == fresh.live()[0]).all()
    assert (part != before).any()


def test_the_board_that_is_drawn_stands_for_the_one_that_is_kept(room: Room) -> None:
    sha = "c" * 64
    kept = Cue(id="x", role="sketch", picture=sha, weight=1.0, end=100)
    room.take(Ask(2, words(RECIPE.model_copy(update={"cues": [kept]}), **{sha: BOARD}), None))
    still = room.still().image
    assert (room.live()[0] == still).all()
    open_one = Painted((512, 640), (0, 0), np.zeros_like(BOARD), board_cue(kept, 1.0))
    room.take(Ask(3, None, open_one))
    assert (room.live()[0] != still).any()  # it was rubbed out, and is not laid twice
    assert (room.still().image == still).all()


@pytest.mark.process
@pytest.mark.parametrize("searched", [False, True])
def test_a_dragged_figure_is_followed_also_where_edges_search_the_composition(searched: bool) -> None:
    cues = [Cue(id="e", role="edges", picture="d" * 64, weight=0.4)] if searched else []
    edges = np.ascontiguousarray(BOARD[::4, ::4, :3])
    room = Room()
    told = words(RECIPE.model_copy(update={"cues": [*cues, pose("facing").model_copy(update={"id": "p"})]}), **{"d" * 64: edges})
    room.take(Ask(1, told, None, poses=[pose("facing")]))
    facing, _ = room.live()
    room.take(Ask(2, None, None, poses=[pose("leaping")]))
    leaping, _ = room.live()
    assert (facing != leaping).mean() > 0.05


def test_messages_come_back_whole_and_the_end_is_none() -> None:
    ask = Ask(7, None, painted())
    out, into = os.pipe()
    writer = threading.Thread(target=lambda: (os.write(into, packed("first")), os.close(into)))
    writer.start()
    source = io.FileIO(out)
    assert read(source) == "first"
    assert read(source) is None
    writer.join()
    again = unpacked(packed(ask)[4:])
    assert (again.number, again.painted.at) == (7, (0, 0))
    assert (again.painted.rgba_u8 == BOARD).all()
    assert unpacked(packed(Answer(3, b"x"))[4:]) == Answer(3, b"x")


def test_a_room_that_was_told_nothing_says_so() -> None:
    with pytest.raises(ValueError, match="nothing was asked"):
        Room().live()


@pytest.mark.process
def test_a_live_picture_is_small_whatever_the_size_of_the_take() -> None:
    for width, height in ((256, 320), (512, 640), (768, 512)):
        room = Room()
        room.take(Ask(1, words(RECIPE.model_copy(update={"width": width, "height": height})), None))
        image, _ = room.live()
        assert image.shape[0] * image.shape[1] <= 256 * 320 * 1.02
        assert image.shape[1] / image.shape[0] == pytest.approx(width / height, abs=0.01)


@pytest.mark.process
def test_rooms_outlive_the_fork_server_they_came_from_and_all_end_with_their_server() -> None:
    async def answered(rooms: Rooms, page: str) -> None:
        answer = await rooms.ask(page, ("words", words()), None)
        assert answer is not None and answer.picture

    others = set(rooms_of(os.getpid()))  # of servers that this process has for other tests

    async def life() -> list[int]:
        async with Rooms(most=2).open() as rooms:
            await answered(rooms, "one")
            (first,) = set(rooms_of(os.getpid())) - others
            os.kill(parent_of(first), signal.SIGKILL)
            await answered(rooms, "one")
            second: list[int] = []
            while not second:
                with contextlib.suppress(RoomLost):  # it may be asked of the fork server that was just killed
                    await answered(rooms, "two")
                    second = list(set(rooms_of(os.getpid())) - others)
            return [first, *second, *map(parent_of, second)]

    ended = asyncio.run(life())
    assert len(set(ended)) == 3
    wait_for(lambda: not any(Path(f"/proc/{pid}").exists() for pid in ended))
