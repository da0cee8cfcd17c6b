"""The marking desk: keys, saving at once, a server that is gone, two tabs, a phone."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server

ROUTE_CARD = "/classes/1/marking/8"


def expect_state(page: Page, name: str, state: str) -> None:
    """What is on its way to the server is said as soon as it is there."""
    expect(page.locator("nav.who li", has_text=name).locator(".state")).to_have_text(state)


def desk(page: Page) -> None:
    """The desk is here, with the work of the student who is first."""
    expect(page.get_by_role("heading", name="Route card for Gull Head")).to_be_visible()
    expect(page.get_by_role("heading", name="14 to mark")).to_be_visible()
    expect(page.get_by_text("2 criteria still to mark.")).to_be_visible()


def test_a_set_goes_on_where_it_was_left(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, ROUTE_CARD)
    desk(page)
    expect_state(page, "Farida Nasser", "2 left")
    expect(page.get_by_text("2 criteria still to mark.")).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Still to mark: Plans for trouble, Credits sources")).to_be_visible()
    page.keyboard.press("3")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("c")
    page.keyboard.type("Say which sheet: 4 of them are on the wall.")
    page.get_by_role("heading", name="Route card").click()
    page.keyboard.press("4")
    expect(page.get_by_text("All marked; finish, and it counts.")).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", name="13 to mark")).to_be_visible()
    expect(page.locator("nav.who [aria-current=true]")).to_contain_text("Chidi Okafor")
    page.reload()
    expect_state(page, "Farida Nasser", "done")
    page.locator("nav.who").get_by_text("Farida Nasser").click()
    page.get_by_role("button", name="Credits sources").click()
    expect(page.get_by_label("Remark C")).to_have_value(
        "Say which sheet: 4 of them are on the wall."
    )
    expect(page.get_by_role("radio", name="Beyond")).to_be_checked()


def test_every_key_of_the_desk(demo_server: Server, open_page: Callable[..., Page]) -> None:
    page = open_page(demo_server, ROUTE_CARD)
    desk(page)
    page.keyboard.press("]")
    expect(page.locator("nav.who [aria-current=true]")).to_contain_text("Chidi Okafor")
    page.keyboard.press("2")
    expect(page.get_by_role("radio", name="On the way")).to_be_checked()
    page.keyboard.press(".")
    expect(page.locator("[data-current=true] .state")).to_have_text("On the way ½")
    page.keyboard.press(".")
    expect(page.locator("[data-current=true] .state")).to_have_text("On the way")
    # A digit only chooses; Backspace clears, and says so.
    page.keyboard.press("2")
    expect(page.locator("[data-current=true] .state")).to_have_text("On the way")
    page.keyboard.press("Backspace")
    expect(page.locator("[data-current=true] .state")).to_have_text("to do")
    expect(page.get_by_text("Cleared: “")).to_be_visible()
    page.keyboard.press("0")
    page.keyboard.press("0")
    expect(page.locator("[data-current=true] .state")).to_have_text("not assessed")
    page.get_by_role("checkbox", name="not assessed").click()
    expect(page.locator("[data-current=true] .state")).to_have_text("to do")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-current=true]")).to_contain_text("Plots each leg on a bearing")
    page.keyboard.press("g")
    expect(page.get_by_role("radiogroup")).to_have_count(4)
    page.keyboard.press("g")
    expect(page.get_by_role("radiogroup")).to_have_count(1)
    page.keyboard.press("n")
    expect(page.locator("nav.who")).not_to_contain_text("Chidi")
    expect(page.locator(".work")).not_to_contain_text("Chidi Okafor")
    page.keyboard.press("n")
    page.keyboard.press("PageUp")
    expect(page.locator("nav.who [aria-current=true]")).to_contain_text("Farida Nasser")


def test_keys_never_act_while_typing_and_can_be_switched_off(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, ROUTE_CARD)
    desk(page)
    page.get_by_label("Remark on the whole").fill("")
    page.keyboard.type("1 2 3 gn0.]")
    expect(page.locator("[data-current=true] .state")).to_have_text("to do")
    page.get_by_role("heading", name="Route card").click()
    page.keyboard.press("?")
    expect(page.get_by_text("Finish and go to the next who waits")).to_be_visible()
    page.get_by_role("checkbox", name="Keys of one letter or digit act").click()
    page.get_by_role("button", name="Close").click()
    page.keyboard.press("3")
    expect(page.locator("[data-current=true] .state")).to_have_text("to do")


def test_the_total_and_each_outcome_move_as_levels_are_chosen(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, ROUTE_CARD)
    desk(page)
    page.keyboard.press("PageDown")
    foot = page.locator(".foot")
    expect(foot).to_contain_text("Nothing marked yet")
    page.keyboard.press("4")
    expect(foot).to_contain_text("4.25of 4.2")
    expect(foot).to_contain_text("R1")
    page.keyboard.press("2")
    expect(foot).to_contain_text("2.13of 4.2")


def test_while_the_server_is_gone_choices_wait_and_are_sent_when_it_is_back(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, ROUTE_CARD)
    desk(page)
    demo_server.stop()
    page.keyboard.press("3")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("2")
    warning = page.get_by_text("Not saved: the server does not answer.")
    expect(warning).to_be_visible()
    expect(page.locator(".foot")).to_contain_text("2 choices and remarks wait in this browser")
    page.keyboard.press("Control+Enter")
    page.keyboard.press("PageDown")
    demo_server.start()
    expect(warning).to_be_hidden(timeout=15_000)
    page.goto(ROUTE_CARD)
    expect(page.get_by_role("heading", name="13 to mark")).to_be_visible()
    expect_state(page, "Farida Nasser", "done")


def test_what_waits_survives_closing_the_page(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, ROUTE_CARD)
    desk(page)
    demo_server.stop()
    page.keyboard.press("3")
    expect(page.get_by_text("Not saved: the server does not answer.")).to_be_visible()
    context = page.context
    page.close()
    demo_server.start()
    page = open_page(demo_server, ROUTE_CARD, context=context)
    expect_state(page, "Farida Nasser", "1 left")


def test_what_waits_is_sent_from_any_page_and_the_page_then_shows_it(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/mastery")
    expect(page.get_by_role("grid", name="Mastery wall")).to_be_visible()
    before = wall_of(page, "Farida Nasser")
    page.goto(ROUTE_CARD)
    desk(page)
    demo_server.stop()
    for key in ("3", "ArrowDown", "4", "Control+Enter"):
        page.keyboard.press(key)
    expect(page.get_by_text("Not saved: the server does not answer.")).to_be_visible()
    demo_server.start()
    page.get_by_role("link", name="Mastery").click()
    expect(page.get_by_role("link", name="Marking 17 to mark")).to_be_visible()
    expect(page.get_by_role("row", name="Farida Nasser")).not_to_have_text(before)
    assert page.evaluate("Object.keys(localStorage).filter(k => k.includes('.save.'))") == []


def wall_of(page: Page, name: str) -> str:
    return page.get_by_role("row", name=name).inner_text()


def test_what_the_server_refuses_is_kept_until_the_teacher_decides(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    """Two tabs write another remark each; the second one's words are still there after closing."""
    first = open_page(demo_server, ROUTE_CARD)
    desk(first)
    second = open_page(demo_server, ROUTE_CARD, context=first.context)
    desk(second)
    expect_state(second, "Farida Nasser", "2 left")
    first.bring_to_front()
    write_remark(first, "Which sheet?")
    expect(first.locator(".saved")).to_contain_text("Saved")
    second.bring_to_front()
    write_remark(second, "Which of the maps?")
    expect(second.get_by_role("alert")).to_contain_text("Which of the maps?")
    second.close()
    page = open_page(demo_server, "/classes/1/mastery", context=first.context)
    expect(page.get_by_role("alert")).to_contain_text("not saved: ")
    page.get_by_role("link", name="Decide at the desk").click()
    expect(page.get_by_label("Remark on the whole")).to_have_value("Which sheet?")
    page.get_by_role("button", name="Use mine").click()
    expect(page.get_by_role("alert")).to_be_hidden()
    page.reload()
    expect(page.get_by_label("Remark on the whole")).to_have_value("Which of the maps?")


def write_remark(page: Page, text: str) -> None:
    page.get_by_label("Remark on the whole").fill(text)
    page.get_by_role("heading", name="Route card").click()


def test_a_session_that_has_ended_loses_nothing_that_was_marked(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, ROUTE_CARD)
    desk(page)
    expect_state(page, "Farida Nasser", "2 left")
    page.context.clear_cookies()
    page.keyboard.press("3")
    page.get_by_role("button", name="Ilse").click()
    expect(page).to_have_url(re.compile(ROUTE_CARD))
    expect_state(page, "Farida Nasser", "1 left")


def test_a_storage_that_takes_nothing_more_still_saves(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    # In a page of its own, since this is done to it for good.
    page = open_page(demo_server).context.new_page()
    page.add_init_script("Storage.prototype.setItem = () => { throw new Error('full') }")
    page.goto(ROUTE_CARD)
    desk(page)
    expect_state(page, "Farida Nasser", "2 left")
    page.keyboard.press("3")
    expect_state(page, "Farida Nasser", "1 left")


@pytest.mark.parametrize("mine", [True, False])
def test_two_tabs_on_one_criterion(
    demo_server: Server, open_page: Callable[..., Page], mine: bool
) -> None:
    first = open_page(demo_server, f"{ROUTE_CARD}/15")
    second = open_page(demo_server, f"{ROUTE_CARD}/15", context=first.context)
    for page in (first, second):
        expect(page.get_by_text("4 criteria still to mark.")).to_be_visible()
    first.bring_to_front()
    first.keyboard.press("4")
    expect(first.get_by_text("3 criteria still to mark.")).to_be_visible()
    expect(first.locator(".saved")).to_contain_text("Saved")
    second.bring_to_front()
    second.keyboard.press("ArrowDown")
    second.keyboard.press("2")
    expect(second.get_by_text("2 criteria still to mark.")).to_be_visible()
    first.bring_to_front()
    first.keyboard.press("ArrowDown")
    first.keyboard.press("1")
    expect(first.get_by_role("alert")).to_contain_text("was marked differently in another tab")
    expect(first.get_by_role("alert")).to_contain_text(
        "You chose Setting out; there now: On the way."
    )
    first.get_by_role("button", name="Use mine" if mine else "Keep what is there now").click()
    expect(first.get_by_role("alert")).to_be_hidden()
    expect(first.locator("[data-current=true] .state")).to_have_text(
        "Setting out" if mine else "On the way"
    )


def test_an_observation_on_a_phone(demo_server: Server, open_page: Callable[..., Page]) -> None:
    page = open_page(demo_server, "/classes/1/marking/6", width=390, height=800, touch=True)
    rung = page.get_by_role("radio", name="Arrived").first
    expect(rung).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    for target in [rung, page.get_by_role("button", name="Finish and next")]:
        box = target.bounding_box()
        assert box is not None
        assert box["height"] >= 44
    rung.tap()
    page.get_by_role("button", name="Corrects for variation").tap()
    page.get_by_role("radio", name="Yes").tap()
    page.get_by_role("button", name="Gives the position at the mark").tap()
    page.get_by_role("radio", name="Beyond").tap()
    page.get_by_role("button", name="Finish and next").tap()
    expect(page.get_by_role("heading", name="1 to mark")).to_be_visible()


def test_the_room_for_work_and_rubric_is_ones_own(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/marking/8")
    rubric = page.get_by_role("region", name="Rubric")
    expect(rubric).to_be_visible()
    divider = page.get_by_role("separator", name="Width of the rubric")
    divider.press("ArrowLeft")
    divider.press("ArrowLeft")
    expect(divider).to_have_attribute("aria-valuenow", "464")
    box = divider.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 4, 300)
    page.mouse.down()
    page.mouse.move(box["x"] - 96, 300)
    page.mouse.up()
    expect(divider).to_have_attribute("aria-valuenow", "564")
    page.reload()
    expect(rubric).to_have_css("width", "564px")
    divider.dblclick()
    expect(rubric).to_have_css("width", "432px")
    # On a tablet one of them is shown, and what is chosen by a key is seen.
    page.set_viewport_size({"width": 768, "height": 1024})
    expect(rubric).to_be_hidden()
    page.keyboard.press("ArrowDown")
    expect(rubric).to_be_visible()
    page.get_by_role("tab", name="Work").click()
    expect(rubric).to_be_hidden()
    expect(page.get_by_role("region", name="Work")).to_be_visible()
