"""Acts: each is carried out once, however often and from wherever it arrives; shown also by random courses of two clients."""

import secrets
import threading
import uuid
from collections.abc import Callable, Iterator
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import Bundle, RuleBasedStateMachine, invariant, rule, run_state_machine_as_test
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError
from mosskeeper.studio import acts, boards, drafts, regions, shots
from mosskeeper.studio.models import ActDone, Shot
from tests.conftest import lay_out

Sessions = sessionmaker[Session]
BOX = regions.DrawnShape(kind="box", points=[(0.1, 0.1), (0.6, 0.9)])


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        made = lay_out(session)
        return drafts.edit(session, made.id, lambda now: now.model_copy(update={"words": ""}))


def done(sessions: Sessions, act_id: str | None, carry_out: Callable[[Session], object]) -> tuple[object, bool]:
    """An act as a request carries it out: in a transaction of its own, which also a refusal commits."""
    refusal: ArtistError | None = None
    given: tuple[object, bool] = (None, False)
    with sessions.begin() as session:
        session.info[acts.ACT] = act_id
        try:
            given = acts.once(session, lambda: carry_out(session))
        except ArtistError as error:
            refusal = error
    if refusal is not None:
        raise refusal
    return given


def words_of(sessions: Sessions, shot: Shot) -> str:
    with sessions() as session:
        return drafts.of_shot(shots.find(session, shot.id)).words


def says(shot: Shot, words: str) -> Callable[[Session], object]:
    return lambda session: drafts.edit(session, shot.id, lambda now: now.model_copy(update={"words": now.words + words}))


def test_an_act_that_arrives_twice_is_carried_out_once(make_session: Sessions, shot: Shot) -> None:
    act = str(uuid.uuid4())
    assert done(make_session, act, says(shot, "a"))[1]
    assert done(make_session, act, says(shot, "a")) == (None, False)
    assert words_of(make_session, shot) == "a"
    done(make_session, None, says(shot, "b"))
    done(make_session, None, says(shot, "b"))  # without an id each is its own
    assert words_of(make_session, shot) == "abb"


def test_an_act_that_arrives_twice_at_once_is_carried_out_once(make_session: Sessions, shot: Shot) -> None:
    act, begun, go = str(uuid.uuid4()), threading.Event(), threading.Event()

    def slow(session: Session) -> object:
        begun.set()
        go.wait(20)
        return says(shot, "a")(session)

    first = threading.Thread(target=lambda: done(make_session, act, slow))
    first.start()
    assert begun.wait(20)
    second: list[tuple[object, bool]] = []
    other = threading.Thread(target=lambda: second.append(done(make_session, act, says(shot, "a"))))
    other.start()
    go.set()
    first.join()
    other.join()
    assert second == [(None, False)]
    assert words_of(make_session, shot) == "a"


def test_an_act_whose_process_was_killed_is_carried_out_when_it_comes_again(make_session: Sessions, shot: Shot) -> None:
    act = str(uuid.uuid4())
    with pytest.raises(KeyboardInterrupt), make_session.begin() as session:
        session.info[acts.ACT] = act
        acts.once(session, lambda: says(shot, "a")(session))
        raise KeyboardInterrupt
    assert done(make_session, act, says(shot, "a"))[1]
    assert words_of(make_session, shot) == "a"


def test_a_refused_act_is_refused_with_the_same_sentence_again_and_keeps_nothing(make_session: Sessions, shot: Shot) -> None:
    act = str(uuid.uuid4())

    def refused(session: Session) -> object:
        says(shot, "a")(session)
        raise boards.BoardMoved

    for _ in range(2):
        with pytest.raises(acts.Moved, match="another tab"):
            done(make_session, act, refused)
    assert words_of(make_session, shot) == ""


def test_a_run_may_stand_on_acts_that_were_carried_out_and_on_no_others(make_session: Sessions, shot: Shot) -> None:
    kept, refused = str(uuid.uuid4()), str(uuid.uuid4())
    done(make_session, kept, says(shot, "a"))

    def no(_: Session) -> object:
        raise ArtistError("no")

    with pytest.raises(ArtistError):
        done(make_session, refused, no)
    with make_session() as session:
        acts.require(session, [kept])
        acts.require(session, [])
        for missing in (refused, str(uuid.uuid4())):
            with pytest.raises(ArtistError, match="1 of the things"):
                acts.require(session, [kept, missing])


class Courses(RuleBasedStateMachine):
    """Two clients that edit the regions of one shot: requests arrive, arrive twice, in another order, or never answer."""

    sessions: Sessions
    shot: Shot
    requests = Bundle("requests")

    def __init__(self) -> None:
        super().__init__()
        with self.sessions.begin() as session:
            drafts.edit(session, self.shot.id, lambda now: now.model_copy(update={"regions": [], "words": ""}))
        self.model: dict[str, str] = {}  # region → its words
        self.taken: set[str] = set()  # ids of acts that arrived

    @rule(target=requests, page=st.sampled_from(["one", "two"]))
    def lays(self, page: str) -> tuple[str, str, str, str]:
        return str(uuid.uuid4()), page, secrets.token_hex(4), "lay"

    @rule(target=requests, page=st.sampled_from(["one", "two"]), of=requests, words=st.sampled_from(["a girl", "an old man", ""]))
    def words(self, page: str, of: tuple[str, str, str, str], words: str) -> tuple[str, str, str, str]:
        return str(uuid.uuid4()), page, of[2], f"say {words}"

    @rule(target=requests, page=st.sampled_from(["one", "two"]), of=requests)
    def takes_off(self, page: str, of: tuple[str, str, str, str]) -> tuple[str, str, str, str]:
        return str(uuid.uuid4()), page, of[2], "off"

    @rule(request=requests)
    def arrives(self, request: tuple[str, str, str, str]) -> None:
        act, page, region, what = request
        first = act not in self.taken
        room = len(self.model) < 8
        try:
            _, carried_out = done(self.sessions, act, lambda session: self._carried_out(session, page, region, what))
        except ArtistError:
            assert (what == "lay" and not room) or (what.startswith("say") and region not in self.model) or not first
            self.taken.add(act)
            return
        assert carried_out == first
        self.taken.add(act)
        if not first:
            return
        if what == "lay":
            self.model[region] = ""
        elif what == "off":
            self.model.pop(region, None)
        else:
            self.model[region] = what.removeprefix("say ")

    def _carried_out(self, session: Session, page: str, region: str, what: str) -> object:
        if what == "lay":
            return regions.add(session, self.shot.id, BOX, page, name=region)
        if what == "off":
            return regions.take_off(session, self.shot.id, region, page)
        return regions.tell(session, self.shot.id, region, {"words": what.removeprefix("say ")}, page)

    @invariant()
    def what_is_kept_is_what_was_done(self) -> None:
        with self.sessions() as session:
            kept = drafts.of_shot(shots.find(session, self.shot.id)).regions
        assert {region.id: region.words for region in kept} == self.model
        assert [region.id for region in kept] == list(self.model)  # each behind those that were there


@pytest.fixture
def courses(make_session: Sessions, shot: Shot) -> Iterator[type[Courses]]:
    yield type("CoursesHere", (Courses,), {"sessions": make_session, "shot": shot})


def test_random_courses_of_two_clients_lose_and_repeat_nothing(courses: type[Courses]) -> None:
    limits = settings(max_examples=12, stateful_step_count=25, deadline=None, suppress_health_check=list(HealthCheck))
    run_state_machine_as_test(courses, settings=limits)


def test_ids_are_forgotten_after_a_month(make_session: Sessions, shot: Shot) -> None:
    old, new = str(uuid.uuid4()), str(uuid.uuid4())
    for act in (old, new):
        done(make_session, act, says(shot, "a"))
    with make_session.begin() as session:
        session.get_one(ActDone, old).created_at = datetime.now(UTC) - timedelta(days=40)
        session.flush()
        acts.thin_out(session, timedelta(days=30))
    with make_session() as session:
        acts.require(session, [new])
        with pytest.raises(ArtistError):
            acts.require(session, [old])
