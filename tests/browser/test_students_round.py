"""The whole round as teacher and student, on a phone too: a slip, the rubric read, work written
with the network cut, handed in, marked, handed back, read, asked again, and the ladder moved.
"""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import timedelta

import pytest
from playwright.sync_api import Page, Response, expect

from jade_ladder.outside import clock
from tests.browser.conftest import Server, choose

Open = Callable[..., Page]
PASSWORD = "gull and compass"


def sign_in(page: Page, name: str, password: str = PASSWORD) -> None:
    page.get_by_label("E-mail, or name to sign in with").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in", exact=True).click()


def sign_out(page: Page) -> None:
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def until_then(server: Server) -> None:
    """Let the time come that the teacher set for handing back."""
    now = clock.now().isoformat(timespec="microseconds")
    with closing(sqlite3.connect(server.data / "jade-ladder.sqlite3", timeout=20)) as db, db:
        db.execute("UPDATE hand_back SET visible_at = ? WHERE visible_at > ?", (now, now))


@pytest.mark.parametrize("width", [1280, 390])
def test_the_whole_round(demo_server: Server, open_page: Open, width: int) -> None:
    page = open_page(demo_server, "/classes/1/slips", width=1280)
    page.get_by_role("button", name="Make 23 slips").wait_for()
    for _ in range(2):
        page.get_by_role("checkbox", name="All students").click()
    page.get_by_role("checkbox", name="Kaia Mwangi").click()
    page.get_by_role("button", name="Make 1 slip").click()
    slip = page.get_by_role("article")
    expect(slip.get_by_role("heading", name="Kaia Mwangi")).to_be_visible()
    expect(slip.get_by_role("img", name="QR code")).to_be_visible()
    code = slip.locator(".code").inner_text()
    sign_out(page)

    # The student, with the code typed as one types.
    page.set_viewport_size({"width": width, "height": 800})
    page.get_by_role("link", name="I have a slip with a code").click()
    page.get_by_label("The code on your slip").fill(code.lower())
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Welcome, Kaia Mwangi")).to_be_visible()
    page.get_by_label("A name to sign in with").fill("farida")
    page.get_by_label("Your password").fill(PASSWORD)
    page.get_by_role("button", name="Set it and sign in").click()
    expect(page.get_by_text("Somebody signs in with this name already")).to_be_visible()
    page.get_by_label("A name to sign in with").fill("kaia")
    page.get_by_role("button", name="Set it and sign in").click()
    expect(page.get_by_role("heading", name="Due")).to_be_visible()
    # A student's pages ask for nothing that students are refused.
    refused: list[str] = []

    def hear(answer: Response) -> None:
        if answer.status in (401, 403):
            refused.append(answer.url)

    page.goto("/classes/1/mastery")
    expect(page.get_by_role("heading", name="Due")).to_be_visible()
    page.on("response", hear)
    # By key: the page may still fill, and a press would land beside it.
    page.get_by_role("link", name="Begin").press("Enter")
    expect(page.get_by_role("heading", name="What counts")).to_be_visible()
    expect(page.get_by_text("Every line earns its place")).to_be_visible()

    # Written with the network cut: nothing is lost, and it is sent when it is back.
    write = page.get_by_label("Write here")
    write.fill("Leg one.")
    expect(page.get_by_text("Saved at")).to_be_visible()
    page.context.set_offline(True)
    write.fill("Leg one. Leg two, in fog.")
    expect(page.get_by_text("Not saved on the server yet")).to_be_visible()
    expect(page.get_by_text("6 words")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("dialog")).to_contain_text("has not reached the server yet")
    page.get_by_role("button", name="Stay signed in").click()
    page.context.set_offline(False)
    expect(page.get_by_text("Saved at")).to_be_visible()
    page.reload()
    expect(write).to_have_value("Leg one. Leg two, in fog.")
    page.get_by_role("button", name="Hand in …").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Leg two, in fog")
    dialog.get_by_role("button", name="Hand in").click()
    expect(page.get_by_role("heading", name="Handed in")).to_be_visible()
    # Written on, which is no conflict with oneself, and left as it was handed in.
    page.get_by_role("button", name="Change it, and hand in again").click()
    write.fill("Leg one. Leg two, in fog. Leg three.")
    expect(page.get_by_text("Saved at")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="Leave it as handed in").click()
    page.get_by_role("button", name="Take it back").click()
    expect(write).to_have_value("Leg one. Leg two, in fog. Leg three.")
    # Undone later, from the page itself; what was written since stays.
    page.reload()
    page.get_by_role("button", name="Hand it in as it was").click()
    expect(page.get_by_role("heading", name="Handed in")).to_be_visible()
    expect(page.get_by_text("Leg one. Leg two, in fog.", exact=True)).to_be_visible()
    page.get_by_role("button", name="Take it back").click()
    expect(write).to_have_value("Leg one. Leg two, in fog. Leg three.")
    page.get_by_role("button", name="Hand in …").click()
    dialog.get_by_role("button", name="Hand in").click()
    expect(page.get_by_role("heading", name="Handed in")).to_be_visible()
    page.get_by_role("link", name="My ladder").click()
    expect(page.get_by_role("heading", name="Map Room · Year 9")).to_be_visible()
    before = page.get_by_text(re.compile(r"\d+ of 11 outcomes mastered")).inner_text()
    page.remove_listener("response", hear)
    assert refused == []
    sign_out(page)

    # The teacher sees it at once, marks it, and hands it back.
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("button", name="Sign in as Ilse Varga").click()
    expect(page.get_by_role("heading", name="Your classes")).to_be_visible()
    page.goto("/classes/1/tasks/9")
    row = page.get_by_role("row", name="Choose Kaia Mwangi")
    expect(row).to_contain_text("handed in 2 times")
    row.get_by_role("link", name="Kaia Mwangi").click()
    expect(page.get_by_role("radiogroup").first).to_be_visible()
    for _ in range(3):
        page.keyboard.press("4")
        page.keyboard.press("ArrowDown")
    page.keyboard.press("2")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Saved").first).to_be_visible()
    page.goto("/classes/1/tasks/9")
    page.get_by_role("button", name="Hand back 1").click()
    panel = page.get_by_role("region", name="Hand back")
    expect(panel).to_contain_text("The page of Kaia Mwangi, as they would see it")
    expect(panel).to_contain_text("Every line earns its place")
    # From a set time on: nothing is seen before.
    tomorrow = (clock.now() + timedelta(days=1)).strftime("%Y-%m-%dT09:00")
    panel.get_by_label("From").fill(tomorrow)
    panel.get_by_role("button", name="Hand back to 1 student").click()
    expect(row).to_contain_text("seen from")
    sign_out(page)

    # Read, with a word, and asked again.
    page.set_viewport_size({"width": width, "height": 800})
    sign_in(page, "KAIA")
    expect(page.get_by_text("not handed back yet").first).to_be_visible()
    expect(page.get_by_role("heading", name="Handed back")).to_have_count(1)
    until_then(demo_server)
    page.reload()
    expect(page.get_by_text("not handed back yet")).to_have_count(1)
    page.get_by_role("link", name="Map for a visitor").first.click()
    expect(page.get_by_role("heading", name="Your levels")).to_be_visible()
    expect(page.get_by_role("heading", name="Moved by this work")).to_be_visible()
    page.get_by_label("What I do next").fill("Look at the legend")
    page.get_by_role("button", name="I have read it").click()
    expect(page.get_by_text("Your teacher sees that you have read it")).to_be_visible()
    page.emulate_media(media="print")
    expect(page.get_by_text("Kaia Mwangi · Map Room · Year 9 · Tern Island School")).to_be_visible()
    expect(page.get_by_role("button", name="Ask for another attempt")).to_be_hidden()
    page.emulate_media(media="screen")
    page.get_by_role("button", name="Ask for another attempt").click()
    page.get_by_label("Why another attempt?").fill("I would add a scale")
    page.get_by_role("button", name="Ask", exact=True).click()
    expect(page.get_by_text("You asked for another attempt")).to_be_visible()
    page.get_by_role("link", name="My ladder").click()
    after = page.get_by_text(re.compile(r"\d+ of 11 outcomes mastered"))
    expect(after).not_to_have_text(before)
    sign_out(page)

    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("button", name="Sign in as Ilse Varga").click()
    expect(page.get_by_role("heading", name="Your classes")).to_be_visible()
    page.goto("/classes/1/tasks/9")
    expect(row).to_contain_text("Look at the legend")
    row.get_by_role("button", name="asks for another attempt").click()
    page.get_by_label("A word to the student").fill("Do, by Friday")
    page.get_by_role("button", name="Open another attempt").click()
    expect(row).to_contain_text("another attempt is open")
    choose(page, "More on Kaia Mwangi", "Take it back")
    expect(row).to_contain_text("taken back")
    sign_out(page)
    sign_in(page, "kaia")
    expect(page.get_by_role("link", name="My ladder")).to_be_visible()
    page.goto("/my/tasks/9/result")
    expect(page.get_by_text("Nothing was handed back here")).to_be_visible()


def test_two_tabs_another_student_and_a_session_that_ran_out(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/sign-in", signed_in=False)
    page.get_by_role("button", name="Sign in as Hana Sato").click()
    expect(page.get_by_role("heading", name="Due")).to_be_visible()
    page.goto("/my/tasks/9")
    write = page.get_by_label("Write here")
    write.fill("In the first tab")
    expect(page.get_by_text("Saved at")).to_be_visible()
    other = open_page(demo_server, "/my/tasks/9", context=page.context)
    other.get_by_label("Write here").fill("In the second tab")
    expect(other.get_by_text("Saved at")).to_be_visible()
    page.bring_to_front()
    write.fill("In the first tab, on")
    expect(page.get_by_role("alert")).to_contain_text("In the second tab")
    page.get_by_role("button", name="Keep what stands here").click()
    expect(page.get_by_text("Saved at")).to_be_visible()
    other.close()

    # The session runs out while writing: it waits for its person, and nobody else sees it.
    page.context.clear_cookies()
    write.fill("Written after the session had ended")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.get_by_role("button", name="Sign in as Dafne Rossi").click()
    expect(page.get_by_role("link", name="My ladder")).to_be_visible()
    page.goto("/my/tasks/9")
    expect(page.get_by_label("Write here")).to_have_value("")
    sign_out(page)
    page.get_by_role("button", name="Sign in as Hana Sato").click()
    expect(page.get_by_role("link", name="My ladder")).to_be_visible()
    page.goto("/my/tasks/9")
    expect(page.get_by_label("Write here")).to_have_value("Written after the session had ended")
    expect(page.get_by_text("Saved at")).to_be_visible()
    sign_out(page)
    left = page.evaluate("() => [...Object.keys(localStorage), ...Object.keys(sessionStorage)]")
    assert [key for key in left if "writing" in key or "typed" in key] == []


def test_a_message_is_read_before_it_goes_and_stands_in_the_outbox(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/tasks/9")
    choose(page, "More to do with this task", "Message")
    panel = page.get_by_role("region", name="Message")
    expect(panel.get_by_role("button", name="Send to 26 students")).to_be_visible()
    panel.get_by_label("To", exact=True).select_option("those below a level on an outcome")
    panel.get_by_label("Outcome").select_option("W1 I can plot and follow a bearing")
    panel.get_by_label("Below").select_option("Arrived")
    panel.get_by_label("Text").fill("Dear {given name}, look at {task} again.")
    expect(panel).to_contain_text("Dear Juno, look at Map for a visitor again.")
    panel.get_by_label("To", exact=True).select_option("those who have handed nothing in")
    expect(panel.get_by_role("button", name="Send to 26 students")).to_be_visible()
    panel.get_by_role("checkbox", name="Send to Leif Aasen").click()
    panel.get_by_role("button", name="Send to 25 students").click()
    expect(page.get_by_text("Sent to 25 students")).to_be_visible()
    expect(page.get_by_text("25 students, 0 read")).to_be_visible()
    page.goto("/outbox")
    expect(page.get_by_text("nothing was sent to anybody")).to_be_visible()
    mail = page.get_by_role("article").filter(has_text="Dear Farida")
    expect(mail).to_contain_text("/my/tasks/9")
    sign_out(page)
    page.get_by_role("button", name="Sign in as Farida Nasser").click()
    message = page.get_by_role("region", name="Messages")
    expect(message).to_contain_text("Dear Farida, look at Map for a visitor again.")
    message.get_by_role("button", name="Read: Map for a visitor").click()
    expect(message).to_contain_text("1 read")
    page.goto("/my/account")
    page.get_by_text("Reminders and messages of my teachers").click()
    expect(page.get_by_role("checkbox", name="Reminders")).not_to_be_checked()
