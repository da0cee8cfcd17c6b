"""Guessing of passwords is slowed down, and nobody with the right one is locked out."""

from __future__ import annotations

import threading
from datetime import timedelta

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.errors import Unavailable
from jade_ladder.service.classes import slips
from jade_ladder.service.people import devices
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.people.failed_tries import (
    MOST_KEPT,
    PER_ACCOUNT,
    PER_ADDRESS,
    WAIT_SECONDS,
    Guesses,
    Hashing,
    account_key,
)
from jade_ladder.web.people.known_devices import DEVICE_COOKIE
from jade_ladder.web.shared.callers import COOKIE
from tests.builders import Small


class Clock:
    now = 1000.0

    def __call__(self) -> float:
        return self.now


@pytest.mark.parametrize(
    "written",
    ["Ilse@Tern.Example", " ilse@tern.example ", "ilse @tern.example", "\tILSE@TERN.EXAMPLE\n"],
)
def test_blanks_and_case_make_no_other_account(written: str) -> None:
    assert account_key(written) == "ilse@tern.example"
    guesses = Guesses(Clock())
    for _ in range(PER_ACCOUNT):
        assert guesses.begin(written, "10.0.0.1") == 0
    assert guesses.begin("ilse@tern.example", "10.0.0.1") > 0


def test_a_long_email_is_cut_before_it_is_counted() -> None:
    assert len(account_key("a" * 5_000_000)) <= 200


def test_after_the_wait_one_more_wrong_try_makes_one_wait_again() -> None:
    clock = Clock()
    guesses = Guesses(clock)
    for _ in range(PER_ACCOUNT):
        guesses.begin("a@b", "1")
    assert guesses.begin("a@b", "1") == int(WAIT_SECONDS) + 1
    clock.now += WAIT_SECONDS + 1
    assert guesses.begin("a@b", "1") == 0
    assert guesses.begin("a@b", "1") > 0
    clock.now += WAIT_SECONDS + 1
    assert guesses.begin("a@b", "1") == 0
    guesses.right("a@b", "1")
    assert [guesses.begin("a@b", "1") for _ in range(PER_ACCOUNT)] == [0] * PER_ACCOUNT


def test_wrong_tries_from_elsewhere_lock_nobody_out() -> None:
    guesses = Guesses(Clock())
    for address in range(30):
        for _ in range(PER_ACCOUNT + 2):
            guesses.begin("ilse@tern.example", f"10.0.1.{address}")
    assert guesses.begin("ilse@tern.example", "10.0.0.1") == 0


def test_one_address_cannot_try_everybody_and_a_school_can_sign_in_from_one() -> None:
    guesses = Guesses(Clock())
    waits = [guesses.begin(f"teacher{n}@b", "10.0.0.9") for n in range(PER_ADDRESS + 1)]
    assert waits[:-1] == [0] * PER_ADDRESS
    assert waits[-1] > 0
    for n in range(200):
        assert guesses.begin(f"teacher{n}@b", "10.0.0.8") == 0
        guesses.right(f"teacher{n}@b", "10.0.0.8")


def test_a_flood_from_an_address_spares_the_devices_that_signed_in_there_before() -> None:
    guesses = Guesses(Clock())
    for n in range(PER_ADDRESS):
        guesses.begin(f"teacher{n}@b", "10.0.0.9")
    assert guesses.begin("ilse@tern.example", "10.0.0.9") > 0
    assert guesses.begin("ilse@tern.example", "10.0.0.9", device="device 1") == 0
    # Such a device has as many tries as an address, and no account there has more than before.
    for n in range(PER_ADDRESS - 1):
        assert guesses.begin(f"student{n}", "10.0.0.9", device="device 1") == 0
    assert guesses.begin("student of another class", "10.0.0.9", device="device 1") > 0
    tries = [
        guesses.begin("farida", "10.0.0.9", device=f"device {n}") for n in range(2, PER_ACCOUNT + 3)
    ]
    assert tries[:PER_ACCOUNT] == [0] * PER_ACCOUNT
    assert tries[PER_ACCOUNT] > 0


def device_of(client: TestClient) -> str:
    return {one.name: one.value or "" for one in client.cookies.jar}[DEVICE_COOKIE]


def test_a_browser_in_which_somebody_signed_in_is_not_kept_out_by_others_there(
    visitor: TestClient, caller: Teacher
) -> None:
    right = {"email": "ilse@tern.example", "password": "a long password"}
    assert visitor.post("/api/session", json=right).status_code == 204
    known = device_of(visitor)
    visitor.cookies.clear()
    for n in range(PER_ADDRESS):
        wrong = {"email": f"nobody{n}@tern.example", "password": "a wrong one"}
        assert visitor.post("/api/session", json=wrong).status_code == 401
    assert visitor.post("/api/session", json=right).status_code == 429
    for made_up in ("", "a" * 43, "device 1"):
        visitor.cookies.set(DEVICE_COOKIE, made_up, "ladder.test", "/api/session")
        assert visitor.post("/api/session", json=right).status_code == 429, made_up
        visitor.cookies.clear()
    visitor.cookies.set(DEVICE_COOKIE, known, "ladder.test", "/api/session")
    assert visitor.post("/api/session", json=right).status_code == 204
    # It says nothing of who signed in, and does not change from one person to the next.
    assert device_of(visitor) == known
    with caller.reading() as db:
        columns = {row[1] for row in db.execute("PRAGMA table_info(known_device)")}
    assert columns == {"token_hash", "seen_at"}
    # With one account it has no more tries than before.
    wrong = {"email": "ilse@tern.example", "password": "a wrong one"}
    assert [visitor.post("/api/session", json=wrong).status_code for _ in range(6)] == [
        *[401] * PER_ACCOUNT,
        429,
    ]


def test_a_device_that_was_not_seen_for_long_is_forgotten(
    database: Database, caller: Teacher
) -> None:
    token = devices.remember(database, None, caller.now)
    later = caller.now + devices.KNOWN_FOR
    assert devices.is_known(database, token, later - timedelta(days=1))
    assert not devices.is_known(database, token, later)
    assert devices.remember(database, token, later) != token


def test_a_try_that_nobody_had_time_to_look_at_does_not_count(visitor: TestClient) -> None:
    hashing: Hashing = visitor.app.state.hashing  # type: ignore[attr-defined]
    body = {"email": "ilse@tern.example", "password": "a long password"}
    for _ in range(18):
        hashing._waiting.acquire()
    for _ in range(PER_ACCOUNT + 2):
        answer = visitor.post("/api/session", json=body)
        assert (answer.status_code, answer.headers["retry-after"]) == (503, "2")
    for _ in range(18):
        hashing._waiting.release()
    assert visitor.post("/api/session", json=body).status_code == 204


def test_memory_is_bounded_and_the_newest_counts_stay() -> None:
    guesses = Guesses(Clock())
    for _ in range(PER_ACCOUNT):
        guesses.begin("ilse@tern.example", "10.0.0.1")
    for n in range(MOST_KEPT):
        guesses.begin(f"{n}@b", f"host {n}")
        if n % 1000 == 0:
            assert len(guesses._counts) <= MOST_KEPT
    assert len(guesses._counts) == MOST_KEPT
    for _ in range(PER_ACCOUNT):
        guesses.begin("last@b", "10.0.0.1")
    assert guesses.begin("last@b", "10.0.0.1") > 0


@given(
    st.lists(st.tuples(st.sampled_from("ab"), st.sampled_from("12"), st.booleans()), max_size=60)
)
def test_no_account_gets_more_tries_than_it_may(tries: list[tuple[str, str, bool]]) -> None:
    """Whatever the order: between two right ones, at most so many wrong ones from an address."""
    guesses, wrong = Guesses(Clock()), dict.fromkeys(((e, a) for e in "ab" for a in "12"), 0)
    for email, address, right in tries:
        if guesses.begin(email, address):
            assert wrong[email, address] == PER_ACCOUNT
        elif right:
            guesses.right(email, address)
            wrong[email, address] = 0
        else:
            wrong[email, address] += 1
            assert wrong[email, address] <= PER_ACCOUNT


def test_at_most_two_passwords_are_hashed_at_a_time_and_few_wait() -> None:
    hashing, lock = Hashing(at_once=2, most_waiting=3), threading.Lock()
    come = threading.Event()
    inside = most = refused = 0

    def sign_in() -> None:
        nonlocal inside, most, refused
        try:
            with hashing.place():
                with lock:
                    inside += 1
                    most = max(most, inside)
                # Nobody is done before all have come, however slow the machine.
                come.wait(20)
                with lock:
                    inside -= 1
        except Unavailable:
            with lock:
                refused += 1
                if refused == 15:
                    come.set()

    threads = [threading.Thread(target=sign_in) for _ in range(20)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert most == 2
    assert refused == 15
    with hashing.place():
        pass


def test_too_many_tries_are_told_to_wait_before_anything_is_hashed(
    visitor: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    hashed = []

    def check(*given: object) -> int:
        from jade_ladder.core.errors import NotSignedIn

        hashed.append(given)
        raise NotSignedIn("wrong")

    monkeypatch.setattr("jade_ladder.web.people.sessions.sessions.check_password", check)
    for n in range(PER_ACCOUNT + 3):
        body = {"email": " " * n + "Ilse@tern.example", "password": "guess"}
        answer = visitor.post("/api/session", json=body)
        assert answer.status_code == (401 if n < PER_ACCOUNT else 429)
    assert int(answer.headers["retry-after"]) > 0
    assert len(hashed) == PER_ACCOUNT


def test_guessing_ones_own_password_is_slowed_as_signing_in_is(
    teacher: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Somebody at a computer that was left open; a new one that is too short is no guess."""
    hashed = []
    monkeypatch.setattr(
        "jade_ladder.service.people.own_account.is_right",
        lambda *given: bool(hashed.append(given)),  # type: ignore[func-returns-value]
    )
    for _ in range(PER_ACCOUNT + 1):
        body = {"current": "guess", "password": "short"}
        assert teacher.put("/api/account/password", json=body).status_code == 422
    codes = [
        teacher.put(
            "/api/account/password", json={"current": "g", "password": "l" * 12}
        ).status_code
        for _ in range(PER_ACCOUNT + 2)
    ]
    assert codes == [422] * PER_ACCOUNT + [429] * 2
    assert len(hashed) == PER_ACCOUNT


def test_a_new_sign_in_ends_what_it_replaces(visitor: TestClient, database: Database) -> None:
    body = {"email": "ilse@tern.example", "password": "a long password"}
    tokens = []
    for _ in range(2):
        assert visitor.post("/api/session", json=body).status_code == 204
        tokens.append(visitor.cookies[COOKIE])
    assert visitor.get("/api/session").json()["person"]["administrator"] is True
    visitor.cookies.clear()
    visitor.cookies.set(COOKIE, tokens[0])
    assert visitor.get("/api/session").json()["person"] is None
    with database.reading() as db:
        assert db.execute("SELECT count(*) FROM session").fetchone() == (1,)


def test_wrong_codes_keep_a_class_behind_one_address_from_nothing(visitor: TestClient) -> None:
    """A class types its codes, with slips of the finger, and signs in; one code is not tried on."""
    codes = [
        visitor.post("/api/session/invited", json={"token": f"AAAABBBB{n:04}"}).status_code
        for n in range(PER_ADDRESS + 5)
    ]
    assert set(codes) == {404}
    one = [
        visitor.post("/api/session/invited", json={"token": "CCCCDDDDEEEE"}).status_code
        for _ in range(PER_ACCOUNT + 1)
    ]
    assert one == [404] * PER_ACCOUNT + [429]
    body = {"email": "ilse@tern.example", "password": "a long password"}
    assert visitor.post("/api/session", json=body).status_code == 204


def test_a_students_cookie_goes_with_the_browser_unless_the_device_is_their_own(
    visitor: TestClient, made: Small
) -> None:
    (slip,) = slips.make_slips(made.caller, made.class_id, [made.students[0]])
    body = {"token": slip.code, "password": "a long password", "sign_in_name": "aino"}
    joined = visitor.post("/api/session/join", json=body)
    own = visitor.post(
        "/api/session", json={"email": "aino", "password": "a long password", "own_device": True}
    )
    assert [answer.status_code for answer in (joined, own)] == [204, 204]
    lasts = ["Max-Age" in answer.headers.get_list("set-cookie")[0] for answer in (joined, own)]
    assert lasts == [False, True]
