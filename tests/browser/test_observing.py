"""A class is observed on a phone: with the network cut, through a reload, and by two phones."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import ME, Server, choose, recorded

Open = Callable[..., Page]
WALK = "/classes/1/tasks/6/observe"
PHONE = {"width": 390, "height": 800, "touch": True}


def level_of(page: Page, name: str, level: str) -> Locator:
    """A level in a student's row."""
    return page.get_by_role("radiogroup", name=f"{name}: ").get_by_role("radio", name=level)


def tap(page: Page, name: str, level: str) -> None:
    """Tap a level in a student's row; it is there at once."""
    level_of(page, name, level).tap()
    expect(level_of(page, name, level)).to_be_checked()


def foot(page: Page) -> Locator:
    return page.get_by_role("contentinfo")


def observation(page: Page) -> dict[str, Any]:
    found: dict[str, Any] = page.request.get("/api/tasks/6/observation").json()
    return found


def levels(page: Page) -> dict[str, list[int]]:
    """What the server has: by name, the places of the levels that were chosen today."""
    found = observation(page)
    places = {
        level["id"]: place
        for criterion in found["criteria"]
        for place, level in enumerate(criterion["levels"], start=1)
    }
    return {
        one["student"]["name"]: [
            places[choice["level_id"]] for choice in one["choices"] if not choice["carried_from"]
        ]
        for one in found["students"]
        if one["choices"]
    }


def test_a_class_is_observed_while_the_network_is_cut_twice_and_the_page_reloaded(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    page = open_page(demo_server, WALK, **PHONE)
    # It was observed on an earlier day: that is what is shown, and who was never seen.
    expect(foot(page)).to_contain_text("2 never seen")
    juno = page.get_by_role("listitem").filter(has_text="Juno Abara")
    expect(juno).to_contain_text("seen 3 November")
    expect(level_of(page, "Juno Abara", "2,")).to_be_checked()
    expect(page.get_by_text("Kept in this browser")).to_be_visible()
    assert violations(page) == []
    tap(page, "Leif Aasen", "3,")
    expect(foot(page)).to_contain_text("All saved at")
    expect(foot(page)).to_contain_text("1 never seen")

    # A second observation is asked for; undone, it leaves nothing behind.
    before = observation(page)["students"][1]
    level_of(page, "Juno Abara", "3,").tap()
    page.get_by_role("dialog").get_by_role("button", name="Leave it as it was seen").tap()
    expect(level_of(page, "Juno Abara", "2,")).to_be_checked()
    level_of(page, "Juno Abara", "3,").tap()
    page.get_by_role("dialog").get_by_role("button", name="Observe again").tap()
    expect(level_of(page, "Juno Abara", "3,")).to_be_checked()
    expect(foot(page)).to_contain_text("24 still to see today")
    page.get_by_role("button", name="Undo").tap()
    expect(foot(page)).to_contain_text("1 never seen")
    expect(foot(page)).to_contain_text("All saved at")
    expect(level_of(page, "Juno Abara", "2,")).to_be_checked()
    assert observation(page)["students"][1] == before

    # The network goes: what is tapped waits, and is said to.
    page.context.set_offline(True)
    level_of(page, "Juno Abara", "2,").tap()
    page.get_by_role("dialog").get_by_role("button", name="Observe again").tap()
    expect(level_of(page, "Juno Abara", "2,")).to_be_checked()
    tap(page, "Mirela Cosma", "1,")
    page.get_by_role("button", name="Undo").tap()
    tap(page, "Mirela Cosma", "4,")
    expect(foot(page)).to_contain_text("No connection. 4 choices wait here and will be sent.")
    expect(foot(page)).to_contain_text("23 still to see")
    assert violations(page) == []

    # The page is closed and opened without a server: it is all there.
    page.reload()
    expect(foot(page)).to_contain_text("No connection. 4 choices wait")
    expect(level_of(page, "Mirela Cosma", "4,")).to_be_checked()
    tap(page, "Ilir Dema", "3,")
    page.get_by_role("button", name="List", exact=True).tap()
    page.get_by_role("button", name="Ximena Etxarri is absent").tap()
    expect(foot(page)).to_contain_text("6 choices wait")
    assert list(levels(page)) == ["Leif Aasen"], "the test's own calls have a network"

    page.context.set_offline(False)
    expect(foot(page)).to_contain_text("All saved at")
    assert levels(page) == {
        "Leif Aasen": [3],
        "Juno Abara": [2],
        "Mirela Cosma": [4],
        "Ilir Dema": [3],
    }

    # Cut again, in the middle of one student: a word, and on to the next one.
    page.get_by_role("button", name=re.compile("Leif Aasen")).first.tap()
    sheet = page.get_by_role("region", name="Leif Aasen")
    expect(sheet).to_contain_text("1 of 26")
    page.context.set_offline(True)
    sheet.get_by_label("A word on Follows").fill("Paced it twice")
    sheet.get_by_role("button", name="Half-way up").first.tap()
    sheet.get_by_role("button", name="Next student").tap()
    sheet = page.get_by_role("region", name="Juno Abara")
    sheet.get_by_role("radiogroup", name=re.compile("Corrects")).get_by_role(
        "radio", name="Yes"
    ).tap()
    expect(foot(page)).to_contain_text("3 choices wait")
    # Opened anew in the middle of a student, it goes on with them.
    page.reload()
    expect(sheet).to_contain_text("2 of 26")
    expect(foot(page)).to_contain_text("3 choices wait")
    assert violations(page) == []
    page.context.set_offline(False)
    expect(foot(page)).to_contain_text("All saved at")
    page.get_by_role("button", name="Back to the class").tap()

    # All who are left are set to one level, but the one who is absent; then it is finished.
    choose(page, "More to do", "Set everyone to one level")
    page.get_by_role("radiogroup", name="Everyone: ").get_by_role("radio", name="Arrived").tap()
    expect(page.get_by_role("status").filter(has_text="21 students set")).to_be_visible()
    expect(foot(page)).to_contain_text("Everybody was seen")
    expect(foot(page)).to_contain_text("All saved at")
    foot(page).get_by_role("button", name="Finish 25").tap()
    expect(page.get_by_text("1 absent stays open")).to_be_visible()
    page.get_by_role("button", name="Finish 25 marks").tap()
    expect(page.get_by_text("25 marks finished")).to_be_visible()
    expect(foot(page).get_by_role("button", name=re.compile("Finish"))).to_have_count(0)
    found = {one["student"]["name"]: one for one in observation(page)["students"]}
    assert found["Ximena Etxarri"]["student"]["absent_on"] == observation(page)["day"]
    assert found["Leif Aasen"]["remarks"][0]["text"] == "Paced it twice"
    assert found["Leif Aasen"]["choices"][0]["half_way"]

    # Signing out takes what is kept with it.
    page.goto("/")
    page.get_by_role("button", name="Sign out").tap()
    expect(page).to_have_url(re.compile("/sign-in"))
    page.context.set_offline(True)
    page.goto(WALK)
    expect(page.get_by_text("Leif Aasen")).to_have_count(0)
    expect(page.get_by_role("alert").first).to_be_visible()


def test_two_phones_that_choose_differently_decide_and_a_photograph_is_kept(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, WALK, **PHONE)
    expect(page.get_by_text("2 never seen")).to_be_visible()
    level = observation(page)["criteria"][0]["levels"][3]["id"]
    first = observation(page)["criteria"][0]["id"]
    other = {"key": "another-phone", "criterion_id": first, "choice": {"level_id": level}}
    assert page.request.post("/api/tasks/6/students/2/taps", data=other, headers=ME).ok
    level_of(page, "Leif Aasen", "2,").tap()
    line = page.get_by_role("button", name=re.compile("Leif Aasen"))
    expect(line).to_contain_text("two answers")
    line.tap()
    sheet = page.get_by_role("region", name="Leif Aasen")
    expect(sheet).to_contain_text("You chose On the way; there now: Beyond")
    sheet.get_by_role("button", name="Use mine").tap()
    expect(foot(page)).to_contain_text("All saved at")
    assert levels(page) == {"Leif Aasen": [2]}
    # A photograph is sent with the mark; a spoken remark is offered beside it.
    sheet.get_by_role("button", name="Record").first.tap()
    recorded(sheet, 1)
    sheet.get_by_role("button", name="Stop").tap()
    expect(sheet.get_by_text(re.compile("Spoken remark, 0:"))).to_be_visible()
    with page.expect_file_chooser() as chooser:
        sheet.get_by_text("Photograph").first.click()
    png = b"\x89PNG\r\n\x1a\n" + b"\0" * 20
    chooser.value.set_files({"name": "beacon.png", "mimeType": "image/png", "buffer": png})
    expect(sheet.get_by_role("link", name="beacon.png")).to_be_visible()

    # Seats: moved by buttons, and the list stands by them.
    sheet.get_by_role("button", name="Back to the class").tap()
    choose(page, "More to do", "Arrange the seats")
    page.get_by_role("button", name="Move Mirela Cosma up").tap()
    page.get_by_role("button", name="Move Mirela Cosma up").tap()
    page.get_by_role("button", name="Use this order").tap()
    expect(page.locator(".student").first).to_contain_text("Mirela Cosma")
    page.reload()
    expect(page.locator(".student").first).to_contain_text("Mirela Cosma")
    expect(foot(page)).to_contain_text("All saved")

    # A finger that is drawn to the left goes on to the next student.
    page.get_by_role("button", name=re.compile("Mirela Cosma")).first.tap()
    expect(page.get_by_role("region", name="Mirela Cosma")).to_be_visible()
    tools = page.context.new_cdp_session(page)
    for kind, x in (("touchStart", 300), ("touchMove", 200), ("touchMove", 90), ("touchEnd", None)):
        points = [] if x is None else [{"x": x, "y": 300}]
        tools.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})
    expect(page.get_by_role("region", name="Leif Aasen")).to_be_visible()

    # Whoever signs in here next does not see it, with a server or without.
    page.request.post("/api/session/demo", data={"person_id": 14})
    page.goto("/my")
    expect(page.get_by_role("heading", name="My work")).to_be_visible()
    page.context.set_offline(True)
    page.goto(WALK)
    expect(page.get_by_role("alert").first).to_be_visible()
    expect(page.get_by_text("Mirela Cosma")).to_have_count(0)
