"""Mastery as a teacher works with it: own judgements, methods compared and applied."""

from __future__ import annotations

import re
from collections.abc import Callable
from io import BytesIO

from openpyxl import load_workbook
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server

Open = Callable[..., Page]
GORAN_W1 = "/classes/1/mastery?student=16&outcome=4"


def cell(page: Page, student: str, outcome: int) -> Locator:
    row = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name=student))
    return row.get_by_role("gridcell").nth(outcome)


def test_a_level_is_judged_with_a_reason_and_lifted(
    demo_server: Server, open_page: Open, violations: Callable[..., list[str]]
) -> None:
    page = open_page(demo_server, GORAN_W1)
    trail = page.get_by_role("complementary", name="Evidence trail")
    trail.get_by_role("button", name="Judge the level yourself").click()
    level = trail.get_by_label("Level on W1")
    expect(level).to_be_focused()
    level.select_option(label="Arrived (3)")
    trail.get_by_role("button", name="Set the level").click()
    # Refused at the field; what was chosen stays.
    expect(trail.get_by_text("A reason is needed")).to_be_visible()
    expect(trail.get_by_label("Why")).to_be_focused()
    trail.get_by_label("Why").fill("Followed three bearings in the fog")
    cell(page, "Noor Haddad", 3).click()
    expect(trail.get_by_role("heading", name="Noor Haddad")).to_be_visible()
    cell(page, "Goran Petrov", 3).click()
    expect(trail.get_by_label("Why")).to_have_value("Followed three bearings in the fog")
    trail.get_by_role("button", name="Set the level").click()
    expect(trail.locator(".value")).to_have_text("3.00")
    expect(trail).to_contain_text("By calculation: 2.10, On the way")
    goran = cell(page, "Goran Petrov", 3)
    expect(goran).to_have_attribute(
        "aria-label",
        "3.00, level 3 of 4, Arrived, mastered, up, judged by the teacher, calculated 2.10",
    )
    assert violations(page, within="[aria-label='Evidence trail']") == []
    # The student reads the level and the reason.
    trail.get_by_role("link", name="The ladder they see").click()
    expect(page.get_by_text("Set by the teacher: Followed three bearings")).to_be_visible()
    page.go_back()

    trail.get_by_role("button", name="Lift it").click()
    expect(trail.locator(".value")).to_have_text("2.10")
    page.get_by_role("button", name="Undo").click()
    expect(trail.locator(".value")).to_have_text("3.00")
    trail.get_by_role("button", name="Lift it").click()
    trail.get_by_text("Judged before (1)").click()
    expect(trail).to_contain_text("lifted by Ilse Varga")

    # Newer evidence came for Noor: the sign goes when the judgement is kept.
    noor = cell(page, "Noor Haddad", 2)
    expect(noor).to_contain_text("!")
    noor.click()
    trail.get_by_role("button", name="Keep the judgement").click()
    expect(noor).to_contain_text("●")
    expect(trail.get_by_text("The evidence changed since you judged")).to_have_count(0)


def test_several_are_judged_with_one_reason(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, GORAN_W1)
    side = page.get_by_role("complementary", name="Evidence trail")
    side.get_by_role("button", name="Judge several students").click()
    expect(side.get_by_label("Level of Leif Aasen")).to_be_focused()
    side.get_by_label("Level of Goran Petrov").select_option(label="Arrived")
    side.get_by_label("Level of Bettina Lund").select_option(label="Beyond")
    side.get_by_label("Why").fill("A long walk together")
    # What is typed is still there after something else was looked at.
    page.get_by_role("link", name="Over the term").click()
    page.get_by_role("heading", name="The class over the term").wait_for()
    page.go_back()
    side.get_by_role("button", name="Judge several students").click()
    expect(side.get_by_label("Why")).to_have_value("A long walk together")
    side.get_by_role("button", name="Set 2 levels").click()
    expect(cell(page, "Goran Petrov", 3)).to_contain_text("3.0")
    expect(cell(page, "Bettina Lund", 3)).to_contain_text("4.0")
    page.get_by_role("button", name="Undo").click()
    expect(cell(page, "Bettina Lund", 3)).to_contain_text("2.4")


def test_methods_are_compared_and_one_is_applied_from_a_day_on(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, GORAN_W1)
    page.get_by_role("link", name="Compare methods").click()
    table = page.get_by_role("region", name="Methods compared")
    row = table.get_by_role("row").filter(has_text="Noor Haddad")
    expect(row).to_contain_text("2.67")
    side = page.get_by_role("complementary", name="What would change")
    # Goran came along from the wall: his evidence is drawn.
    expect(side.get_by_role("heading", name="Goran Petrov")).to_be_visible()
    slider = page.get_by_role("slider", name="What the newest piece counts")
    slider.focus()
    for _ in range(15):
        page.keyboard.press("ArrowRight")
    expect(table.get_by_role("columnheader", name="Decaying average 75%")).to_be_visible()
    expect(side.get_by_role("button", name="Decaying average 75%")).to_have_attribute(
        "aria-pressed", "true"
    )
    expect(side).to_contain_text("Decaying average 75% (dotted)")
    table.get_by_role("button", name="Latest").click()
    expect(side).to_contain_text("3 gain mastery: Noor Haddad, Farida Nasser, Wairimu Wekesa")
    side.get_by_text("From a day on").click()
    side.get_by_role("button", name="Apply to W1").click()
    expect(table.get_by_role("columnheader", name="Latest")).to_contain_text("holds now")
    expect(row.get_by_text("gains")).to_have_count(0)
    page.get_by_role("link", name="Mastery wall").click()
    expect(page.get_by_text("W1 Latest")).to_be_visible()
    expect(cell(page, "Noor Haddad", 3)).to_contain_text("3.0")
    # The day before it was still worked out by the class's method.
    cell(page, "Noor Haddad", 3).click()
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail.get_by_role("img", name="from here by Latest")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(cell(page, "Noor Haddad", 3)).to_contain_text("2.6")


def test_a_class_is_compared_as_a_whole_and_some_outcomes_apart(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/mastery/compare")
    grid = page.get_by_role("region", name="The class under one method")
    side = page.get_by_role("complementary", name="What would change")
    side.get_by_role("button", name="Highest").click()
    expect(side).to_contain_text("M3, A2 keep their own method")
    expect(side).to_contain_text("2 judgements with evidence; from 8 on")
    gains = grid.get_by_text("gains")
    many = gains.count()
    assert many > 20
    grid.get_by_role("checkbox", name="W2").check()
    expect(gains).to_have_count(2)
    side.get_by_role("button", name="Apply to W2").click()
    expect(page.get_by_text("W2: Highest")).to_be_visible()
    expect(gains).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(gains).to_have_count(2)


def test_the_wall_is_filtered_sorted_and_folded_and_a_link_shows_the_same(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/mastery")
    rows = page.get_by_role("rowheader")
    expect(rows.first).to_be_visible()
    everybody = rows.count()
    page.get_by_label("Filter").select_option("slipped")
    expect(page.get_by_text("slipped: mastered before, not now")).to_be_visible()
    expect(rows).not_to_have_count(everybody)
    # Each row that is left has a cell that slipped; the others are faint.
    slipped = page.locator("[role=gridcell][aria-label*='slipped']")
    assert slipped.count() >= rows.count()
    page.get_by_label("Filter").select_option("judged")
    expect(rows).to_have_text(["Ilir Dema", "Noor Haddad", "Tevita Manukia"])
    page.get_by_role("button", name="W1", exact=True).click()
    expect(rows).to_have_text(["Noor Haddad", "Tevita Manukia", "Ilir Dema"])
    expect(page.get_by_role("columnheader", name="W1")).to_have_attribute("aria-sort", "ascending")
    page.get_by_role("button", name="W1 ▴").click()
    expect(rows).to_have_text(["Ilir Dema", "Tevita Manukia", "Noor Haddad"])
    # A strand in one column, an outcome left out; a link shows the same.
    page.get_by_role("button", name="Making maps").click()
    noor = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name="Noor Haddad"))
    expect(noor).to_contain_text("0 of 3")
    page.get_by_role("button", name="View: cells and columns").click()
    page.get_by_text("R2 I can use scale").click()
    page.get_by_label("What cells show").select_option("pieces")
    page.keyboard.press("Escape")
    expect(page.get_by_role("columnheader", name="R2")).to_have_count(0)
    other = open_page(demo_server, page.url)
    expect(other.get_by_role("rowheader")).to_have_text(
        ["Ilir Dema", "Tevita Manukia", "Noor Haddad"]
    )
    expect(other.get_by_role("button", name="▸ Making maps")).to_be_visible()
    expect(other.get_by_role("columnheader", name="R2")).to_have_count(0)
    # What is printed is what is shown, in the same order.
    page.get_by_role("link", name="Print or CSV").click()
    sheet = page.get_by_role("region", name="Mastery")
    expect(sheet.get_by_role("rowheader")).to_have_text(
        ["Ilir Dema", "Tevita Manukia", "Noor Haddad"]
    )
    expect(sheet.get_by_role("columnheader", name="R2")).to_have_count(0)
    with page.expect_download() as told:
        page.get_by_role("link", name="Download CSV").click()
    assert len(told.value.path().read_text("utf-8-sig").splitlines()) == 4
    # Nobody matches: it says so, and leads back.
    other.get_by_label("Find a student").fill("zzz")
    expect(other.get_by_text("No name has “zzz” in it")).to_be_visible()
    other.get_by_role("button", name="Show every student").click()
    expect(other.get_by_role("rowheader")).to_have_count(everybody)


def test_the_term_is_played_and_each_day_is_as_of_that_day(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/mastery")
    slider = page.get_by_role("slider", name="Day of the term")
    slider.focus()
    page.keyboard.press("Home")
    expect(page.get_by_role("gridcell", name="no evidence").first).to_be_visible()
    first = page.get_by_label("As of", exact=True).first
    began = first.input_value()
    page.get_by_role("button", name="Play the term").click()
    expect(first).not_to_have_value(began)
    page.get_by_role("button", name="Pause").click()
    # Where it rests is in the address, and the server says the same of that day.
    page.wait_for_timeout(400)
    day = first.input_value()
    assert f"as_of={day}" in page.url
    seen = page.request.get(f"/api/classes/1/mastery?as_of={day}").json()
    assert seen["as_of"] == day
    mastered = {one["name"]: f"{one['mastered']} of {one['of']}" for one in seen["students"]}
    row = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name="Leif Aasen"))
    expect(row).to_contain_text(mastered["Leif Aasen"])


def test_imagined_pieces_say_where_they_lead(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, GORAN_W1)
    trail = page.get_by_role("complementary", name="Evidence trail")
    trail.get_by_text("By another attempt at one of these tasks").click()
    expect(
        trail.get_by_text("Bearing walk 2: Arrived or better (3; the lowest value")
    ).to_be_visible()
    trail.get_by_text("What if …").click()
    trail.get_by_label("Imagine a piece at").select_option(label="Arrived (3)")
    trail.get_by_label("From", exact=True).select_option(label="another attempt at Bearing walk 2")
    trail.get_by_role("button", name="Imagine it").click()
    imagined = trail.get_by_role("list", name="Imagined pieces").get_by_role("listitem")
    expect(imagined).to_have_count(1)
    expect(imagined.first).to_contain_text("3.00")
    trail.get_by_label("From", exact=True).select_option(label="a new task")
    trail.get_by_label("Imagine a piece at").select_option(label="Beyond (4)")
    trail.get_by_role("button", name="Imagine it").click()
    expect(imagined.nth(1)).to_contain_text("3.60")
    # Nothing of it is kept.
    expect(trail.locator(".value")).to_have_text("2.10")
    trail.get_by_role("button", name="Clear").click()
    expect(imagined).to_have_count(0)


def test_the_first_page_leads_to_what_is_done_and_forgets_it_then(
    demo_server: Server, open_page: Open, violations: Callable[..., list[str]]
) -> None:
    page = open_page(demo_server, "/")
    worth = page.get_by_role("region", name="Worth a look")
    expect(page.get_by_text("26 pieces of work wait to be marked.")).to_be_visible()
    expect(
        page.get_by_text("You stopped at Farida Nasser, Route card for Gull Head")
    ).to_be_visible()
    assert violations(page) == []
    worth.get_by_role("link", name="keep or lift").click()
    page.get_by_role("button", name="Keep the judgement").click()
    expect(page.get_by_role("gridcell").filter(has_text="!")).to_have_count(0)
    page.get_by_role("link", name="Jade Ladder: today").click()
    expect(worth.get_by_text("Slipped in the last two weeks")).to_be_visible()
    expect(worth.get_by_text("Judged by you, and the evidence changed")).to_have_count(0)
    # What is handed back is gone from here; so is who was reminded by their work.
    back = page.get_by_role("region", name="Marked, and not handed back")
    back.get_by_role("link", name="hand back to 2 students").click()
    page.get_by_role("button", name="Hand back to 2 students").click()
    expect(page.get_by_text("handed back to 2 students")).to_be_visible()
    page.go_back()
    expect(back.get_by_role("listitem")).to_have_count(2)
    worth.get_by_role("link", name="remind").click()
    expect(page.get_by_label("To", exact=True)).to_be_visible()
    page.go_back()
    # Who stands just below: the wall shows them alone, the nearest first.
    worth.get_by_role("listitem").filter(has_text="on R3").get_by_role("link", name="who").click()
    expect(page.get_by_label("Filter")).to_have_value("close")
    expect(page.get_by_text("close on R3: not yet")).to_be_visible()
    expect(page.get_by_role("rowheader")).to_have_count(8)
    page.go_back()
    page.get_by_role("link", name="Go on marking").click()
    expect(page).to_have_url(re.compile(r"/classes/1/marking/8/14$"))


def test_a_class_is_downloaded_as_a_workbook(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/mastery")
    page.get_by_role("button", name="Export the class").click()
    with page.expect_download() as found:
        page.get_by_role("menuitem", name="Workbook (XLSX)").click()
    assert found.value.suggested_filename.startswith("Map Room · Year 9 ")
    wall = load_workbook(BytesIO(found.value.path().read_bytes()))["Wall"]
    names = [row[0].value for row in wall.iter_rows(min_row=2)]
    assert len(names) == page.get_by_role("rowheader").count()
    assert "Goran Petrov" in names
    expect(page.get_by_text("The workbook is downloaded")).to_be_visible()


def test_the_class_is_read_over_the_term(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/mastery")
    page.get_by_role("link", name="Over the term").click()
    expect(page.get_by_text("Not got by the class as a whole:")).to_be_visible()
    r3 = page.get_by_role("article", name="R3 I can give and find a grid position")
    expect(r3).to_contain_text("17 of 26 mastered, median 2.78")
    # Since today nobody moved.
    since = page.get_by_label("Who moved since")
    since.fill(since.get_attribute("max") or "")
    expect(r3.get_by_text("Nobody moved.")).to_be_visible()
    page.goto("/classes/1/mastery/class")
    r3.get_by_text("1 slipped").click()
    r3.get_by_role("link", name="Leif Aasen").click()
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail.get_by_role("link", name="Leif Aasen")).to_be_visible()
    page.go_back()
    page.get_by_role("link", name="Tasks and criteria").click()
    page.get_by_role("button", name="3. Where is the old quay?").click()
    table = page.get_by_role("region", name="Tasks over the term")
    expect(table.get_by_role("heading", name="Credits sources")).to_be_visible()
    expect(table).to_contain_text("mean level 2.73 of 4")
    expect(page.get_by_role("heading", name="Criteria over the term")).to_be_visible()
    # The same outcome over both classes, from its page.
    page.goto("/classes/1/outcomes/4")
    page.get_by_role("link", name="In all my classes").click()
    for name, students in (("Tide Room · Year 8", 8), ("Map Room · Year 9", 26)):
        there = page.get_by_role("region", name=name).get_by_role("listitem")
        expect(there).to_have_count(students)
