"""Marking a set evenly and quickly: one criterion for all under cover names, the bank, spoken
remarks through a lost server, and back to an earlier version.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from itertools import pairwise

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from jade_ladder.demo.files import recording
from tests.browser.conftest import ME, Server, recorded

Open = Callable[..., Page]
ROUTE = "/classes/1/marking/8"
GORAN, MAI = 16, 17


def current(page: Page) -> str:
    return page.locator("nav.who [aria-current=true] .name").inner_text().split("\n")[0].strip()


def saved(page: Page) -> None:
    expect(page.locator(".foot .saved")).to_contain_text("Saved")


def test_one_criterion_for_all_students_under_cover_names(
    demo_server: Server, open_page: Open
) -> None:
    """By keys alone, until the set is finished; then names are shown again."""
    page = open_page(demo_server, ROUTE)
    expect(page.get_by_role("heading", name="14 to mark")).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("g")
    expect(page.get_by_role("button", name="One for all")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("n")
    expect(page.get_by_text("Farida Nasser")).to_have_count(0)
    names = page.locator("nav.who .name").all_inner_texts()
    assert names == sorted(names)
    turns: list[tuple[str, str]] = []
    finishing = page.get_by_role("button", name="Finish and next")
    for _ in range(60):
        criterion = page.locator("[data-current=true] .head b").inner_text()
        turns.append((criterion, current(page)))
        page.keyboard.press("2")
        expect(page.locator("[data-current=true] [aria-checked=true]")).to_have_count(1)
        last = finishing.is_visible() and len(turns) > 50
        page.keyboard.press("Control+Enter")
        if page.get_by_text("That was the last one that waited.").is_visible():
            break
        if last and page.get_by_role("heading", name="All marked").is_visible():
            break
        expect(page.locator("nav.who [aria-current=true]")).not_to_have_text(turns[-1][1])
    criteria = [criterion for criterion, _ in turns]
    # All of one criterion stand together: it is gone through to its end before the next.
    changes = sum(a != b for a, b in pairwise(criteria))
    assert changes == len(set(criteria)) - 1 == 3
    assert len(set(turns)) == len(turns) == 14 * 4 - 2
    expect(page.get_by_role("heading", name="All marked")).to_be_visible()
    expect(page.locator("nav.who")).to_contain_text("Farida Nasser")
    expect(page.locator("nav.who")).to_contain_text("The set is finished: names are shown.")


def test_how_levels_have_fallen_and_drift(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/marking/1/13")
    expect(page.get_by_role("radiogroup")).to_be_visible()
    page.keyboard.press("s")
    spread = page.locator(".spread")
    expect(spread).to_contain_text("First 12: mean level")
    expect(spread).to_contain_text("Last 12: mean level")
    page.goto(f"{ROUTE}/{GORAN}")
    expect(spread).to_contain_text("So far")
    before = spread.inner_text()
    page.keyboard.press("4")
    expect(spread).not_to_have_text(before)
    # Hidden names do not look out of the names of files.
    expect(page.get_by_role("tab", name="sketch 2.jpg")).to_be_visible()
    page.keyboard.press("n")
    expect(page.get_by_role("tab", name="Part 3.jpg")).to_be_visible()
    expect(page.get_by_role("tab", name="sketch")).to_have_count(0)


def test_the_bank_is_edited_and_offers_what_it_has_by_a_digit(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    page = open_page(demo_server, "/bank")
    expect(page.get_by_role("list", name="Texts of the bank")).to_be_visible()
    page.get_by_role("button", name="Add a text").click()
    field = page.get_by_role("textbox", name="Text")
    field.fill("{shoe size} fits")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("There is no field {shoe size}")).to_be_visible()
    expect(field).to_be_focused()
    field.fill("Row with Farida, {given name}: zebra")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_label("Search the bank").fill("ZEBRA")
    expect(
        page.get_by_role("list", name="Texts of the bank").get_by_role("listitem")
    ).to_have_count(1)
    row = page.get_by_role("listitem").filter(has_text="zebra")
    expect(row).to_contain_text("Row with {another student}, {given name}: zebra")
    more = row.get_by_role("button", name="More on “Row with")
    more.click()
    row.get_by_role("menuitem", name="Pin").click()
    expect(row).to_contain_text("pinned")
    more.click()
    row.get_by_role("menuitem", name="Edit").click()
    field.fill("Good, {given name}: a zebra")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(row).to_contain_text("Good, {given name}: a zebra")
    row.get_by_role("button", name="More on").click()
    row.get_by_role("menuitem", name="Delete").click()
    expect(page.get_by_text("Nothing has these words")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(row).to_be_visible()

    page.goto(f"{ROUTE}/{GORAN}")
    expect(page.locator("article.sheet")).to_be_visible()
    page.keyboard.press("b")
    offers = page.get_by_role("group", name="Remark bank")
    expect(offers.get_by_role("listitem")).to_have_count(9)
    page.keyboard.press("b")
    page.keyboard.type("zebra")
    expect(offers.get_by_role("listitem")).to_have_count(1)
    assert violations(page) == []
    page.keyboard.press("Enter")
    remark = page.get_by_label("Remark C")
    expect(remark).to_have_value("Good, Goran: a zebra")
    page.keyboard.press("b")
    expect(offers.get_by_role("listitem")).to_have_count(9)
    page.keyboard.press("1")
    expect(remark).not_to_have_value("Good, Goran: a zebra")
    assert remark.input_value().startswith("Good, Goran: a zebra ")


def test_a_spoken_remark_through_a_lost_server(demo_server: Server, open_page: Open) -> None:
    """Recorded while the server is gone, it is sent when it is there again, and can be heard."""
    page = open_page(demo_server, f"{ROUTE}/{GORAN}")
    expect(page.locator("article.sheet")).to_be_visible()
    demo_server.stop()
    page.keyboard.press("r")
    now = page.get_by_role("group", name="Recording")
    recorded(now, 1)
    now.get_by_role("button", name="Pause").click()
    expect(now).to_contain_text("Paused")
    now.get_by_role("button", name="Go on").click()
    recorded(now, 2)
    page.keyboard.press("r")
    expect(page.get_by_text("Not sent: The connection was lost.")).to_be_visible()
    expect(page.get_by_text("It is kept in this browser.")).to_be_visible()
    demo_server.start()
    heard = page.get_by_label(re.compile("Spoken remark, 0:"))
    expect(heard).to_be_visible()
    page.get_by_label("Its words").fill("Measure it from the light.")
    page.get_by_role("heading", name="Route card").click()
    heard.evaluate("audio => { audio.preload = 'auto'; audio.load() }")
    expect(heard).to_have_js_property("readyState", 4)
    saved(page)
    page.reload()
    expect(page.get_by_label("Its words")).to_have_value("Measure it from the light.")
    page.get_by_role("button", name="Delete the recording").click()
    expect(heard).to_have_count(0)


def test_a_recording_that_was_cut_off_is_kept_as_far_as_it_came(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, f"{ROUTE}/{GORAN}")
    expect(page.locator("article.sheet")).to_be_visible()
    page.keyboard.press("r")
    recorded(page.get_by_role("group", name="Recording"), 3)
    page.reload()
    expect(page.get_by_text("A recording was cut off at 0:")).to_be_visible()
    # Whoever signs out is told of it.
    page.get_by_role("button", name="Sign out").click()
    dialog = page.get_by_role("dialog", name="Sign out with unsent work?")
    expect(dialog).to_contain_text("1 spoken remark")
    dialog.get_by_role("button", name="Stay signed in").click()
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator("audio")).to_have_count(1)


@pytest.mark.parametrize(
    ("fault", "says"),
    [
        ("NotAllowedError", "does not allow the microphone"),
        ("NotFoundError", "No microphone was found"),
    ],
)
def test_without_a_microphone_a_recording_is_attached_as_a_file(
    demo_server: Server, open_page: Open, fault: str, says: str
) -> None:
    # In a page of its own, since this is done to it for good.
    page = open_page(demo_server).context.new_page()
    page.add_init_script(
        "navigator.mediaDevices.getUserMedia = () => "
        f"Promise.reject(new DOMException('no', '{fault}'))"
    )
    page.goto(f"{ROUTE}/{GORAN}")
    expect(page.locator("article.sheet")).to_be_visible()
    page.get_by_role("button", name="Record R").first.click()
    expect(page.get_by_role("alert")).to_contain_text(says)
    page.locator("input[type=file]").first.set_input_files(
        {"name": "spoken.wav", "mimeType": "audio/wav", "buffer": recording()}
    )
    expect(page.get_by_role("link", name="spoken.wav")).to_be_visible()


def test_back_to_an_earlier_version_of_a_mark(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, f"{ROUTE}/{GORAN}")
    expect(page.locator("article.sheet")).to_be_visible()
    page.keyboard.press("3")
    saved(page)
    page.keyboard.press("ArrowDown")
    page.keyboard.press("1")
    expect(page.locator(".foot .saved")).to_contain_text("Saved")
    page.keyboard.press("h")
    history = page.get_by_role("region", name="History of this mark")
    expect(history.get_by_role("heading", name="History")).to_be_focused()
    expect(history.locator("ol > li").first).to_contain_text("Plots each leg on a bearing")
    history.get_by_role("button", name="Beside today’s").first.click()
    row = history.get_by_role("row").filter(has_text="Plots each leg")
    expect(row).to_contain_text("nothing")
    expect(row).to_contain_text("(different)")
    history.get_by_role("button", name="Go back to this version").click()
    expect(page.get_by_text("The earlier version stands again.")).to_be_visible()
    page.keyboard.press("Escape")
    levels = page.get_by_role("radio", checked=True)
    expect(page.get_by_role("button", name="Plots each leg")).to_contain_text("to do")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_role("button", name="Plots each leg")).to_contain_text("Setting out")
    expect(levels).to_have_count(1)
    assert page.request.get(f"/api/tasks/8/students/{GORAN}/attempts/1/history", headers=ME).ok


def test_an_exemplar_stands_beside_other_work(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    page = open_page(demo_server, f"{ROUTE}/2")
    page.get_by_role("button", name="Make this an exemplar").click()
    page.get_by_label("What it is an example of").fill("Checks from both ends")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Pinned: it can stand beside")).to_be_visible()
    page.goto(f"{ROUTE}/{GORAN}")
    page.get_by_label("Exemplar beside").select_option(label="Exemplar: Checks from both ends")
    beside = page.get_by_role("complementary", name="Exemplar: Checks from both ends")
    expect(beside).to_contain_text("An exemplar from Route card for Gull Head. Agreed:")
    expect(page.locator("[data-current=true] .rung", has_text="the exemplar")).to_have_count(1)
    assert violations(page) == []
    page.keyboard.press("PageDown")
    expect(beside).to_be_visible()
    page.get_by_role("button", name="Not an exemplar any more").click()
    expect(beside).to_have_count(0)


def test_a_teacher_prints_what_a_student_gets(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/marking/7/14")
    page.get_by_role("link", name="print it").click()
    expect(
        page.get_by_role("heading", name="Which path floods first?: Farida Nasser")
    ).to_be_visible()
    expect(page.get_by_role("button", name="Save as PDF with remarks")).to_be_visible()
    expect(page.locator("article.sheet a.passage-number").first).to_be_visible()
    page.emulate_media(media="print")
    expect(page.get_by_role("banner")).to_be_hidden()
    assert page.pdf()[:5] == b"%PDF-"
    # A PDF is taken along with its remarks at their places.
    page.emulate_media(media="screen")
    page.goto(f"/classes/1/tasks/8/students/{MAI}/result")
    with page.expect_download() as saving:
        page.get_by_role("button", name="Save as PDF with remarks").click()
    assert saving.value.suggested_filename == "Route card for Gull Head Thị Mai Phan.pdf"
    pages = [one.extract_text() for one in PdfReader(saving.value.path()).pages]
    assert len(pages) == 4
    assert "By which path? It floods at springs." in pages[3]
