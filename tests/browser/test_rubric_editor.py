"""The rubric editor: fast to fill, every step can be undone, grids and copied criteria."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from jade_ladder.service.people.accounts import NewTeacher, add_teacher
from jade_ladder.store.shared.connection import Database
from tests.browser.conftest import ME, Server, choose, saved

Open = Callable[..., Page]
GRID = "Criterion\tStrong (4)\tWeak (0)\tWeight\nNames stars\tTen\tOne\t40\n"


def begin(page: Page, title: str = "Sky chart") -> None:
    number = page.request.post("/api/rubrics", data={"title": title}, headers=ME).json()["id"]
    page.goto(f"/classes/1/rubrics/{number}")


def criteria(page: Page) -> Locator:
    return page.locator(".criterion")


def titles(page: Page) -> list[str]:
    return [field.input_value() for field in page.locator(".criterion-title").all()]


def paste_html(field: Locator, html: str) -> None:
    """Paste as a word processor puts it on the clipboard."""
    field.evaluate(
        """(field, html) => {
          const data = new DataTransfer()
          data.setData('text/html', html)
          field.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, cancelable: true}))
        }""",
        html,
    )


def test_titles_are_typed_one_after_another(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/")
    begin(page)
    page.get_by_role("button", name="Add a criterion").first.click()
    for title in ("Names the stars", "Finds north", "Tells the hour"):
        page.keyboard.type(title)
        page.keyboard.press("Enter")
    expect(criteria(page)).to_have_count(4)
    assert titles(page) == ["Names the stars", "Finds north", "Tells the hour", ""]
    saved(page)
    page.reload()
    expect(criteria(page)).to_have_count(4)


def test_every_step_is_undone_and_done_again(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    title = page.get_by_label("Title of criterion 2")
    title.fill("Times it to the minute")
    saved(page)
    page.get_by_role("button", name="More on Times it").click()
    page.get_by_role("button", name="Delete this criterion").click()
    expect(criteria(page)).to_have_count(1)
    page.get_by_role("button", name="All equal").click()
    expect(page.get_by_label("Weight of Measures")).to_have_value("100")
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    expect(criteria(page)).to_have_count(2)
    expect(page.get_by_label("Weight of Measures")).to_have_value("60")
    title.focus()
    page.keyboard.press("Control+z")
    expect(title).to_have_value("Times the crossing")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    page.keyboard.press("Control+Shift+z")
    expect(title).to_have_value("Times it to the minute")
    # What follows the default shows the server's values again.
    cell = page.get_by_label("is evidence of this value on R2").last
    expect(cell).to_have_value("4.00")
    saved(page)
    page.reload()
    expect(title).to_have_value("Times it to the minute")


def test_a_grid_from_a_spreadsheet_becomes_criteria(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/")
    begin(page)
    page.get_by_role("button", name="Paste a grid").first.click()
    cells = page.get_by_label("Cells of the grid")
    ragged = GRID + "North\ta\tb\tc\td\n"
    cells.fill(ragged)
    expect(page.get_by_role("alert")).to_contain_text("Row 3 has 5 cells, but there are 2 levels")
    expect(cells).to_have_value(ragged)
    cells.fill(GRID + "North\tFinds it\t\t60\n")
    page.get_by_role("button", name="Add 2 criteria").click()
    expect(criteria(page)).to_have_count(2)
    first = criteria(page).first
    expect(first.get_by_label("Name of a level").first).to_have_value("Weak")
    expect(first.get_by_label("Points of Strong")).to_have_value("4")
    expect(first.get_by_label("Descriptor of Strong")).to_have_value("Ten")
    expect(page.get_by_text("The weights come to 100%.")).to_be_visible()
    expect(page.get_by_text("1 descriptor left blank")).to_be_visible()
    saved(page)


def test_a_table_from_a_document_is_taken_apart(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/")
    begin(page)
    page.get_by_role("button", name="Paste a grid").first.click()
    html = (
        "<table><tr><td></td><td>Weak</td><td>Strong</td></tr>"
        "<tr><td>Names stars</td><td colspan=2>Some<br>of them</td></tr></table>"
    )
    paste_html(page.get_by_label("Cells of the grid"), html)
    expect(page.get_by_text("1 merged cell was taken apart")).to_be_visible()
    page.get_by_role("button", name="Add 1 criterion").click()
    expect(page.get_by_label("Descriptor of Weak")).to_have_value("Some\nof them")


def test_criteria_come_in_from_another_rubric_and_are_doubled(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/")
    begin(page)
    page.get_by_role("button", name="Copy criteria from a rubric").click()
    page.get_by_label("From the rubric").select_option("Route card (4 criteria)")
    page.get_by_label("Plots each leg on a bearing").check()
    page.get_by_role("button", name="Add 1 criterion").click()
    expect(criteria(page)).to_have_count(1)
    expect(criteria(page).first).to_contain_text("W2")
    page.get_by_role("button", name="More on Plots each leg").click()
    page.get_by_role("button", name="Duplicate it").click()
    expect(criteria(page)).to_have_count(2)
    saved(page)
    page.reload()
    expect(criteria(page)).to_have_count(2)
    assert titles(page) == ["Plots each leg on a bearing"] * 2


def test_levels_are_put_in_moved_and_named_alike(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    expect(page.get_by_label("The same level names for all criteria")).to_be_checked()
    first, second = criteria(page).nth(0), criteria(page).nth(1)
    first.get_by_label("Name of a level").nth(1).fill("Under way")
    expect(second.get_by_label("Name of a level").nth(1)).to_have_value("Under way")
    first.get_by_role("button", name="Put a level in above Under way").click()
    expect(first.get_by_label("Name of a level")).to_have_count(5)
    expect(first.get_by_label("Points of this level")).to_have_value("2.5")
    expect(second.get_by_label("Name of a level")).to_have_count(4)
    first.get_by_label("Name of a level").nth(2).fill("Nearly")
    first.get_by_role("button", name="Move the level Nearly of Measures the crossing up").click()
    expect(first.get_by_label("Name of a level").nth(3)).to_have_value("Nearly")
    expect(first).to_contain_text("points fall")
    page.get_by_role("button", name="All equal").click()
    page.get_by_role("button", name="Finalise").click()
    expect(page.get_by_role("alert")).to_contain_text("fall as its levels rise")
    page.get_by_role("button", name="More on Measures").click()
    page.get_by_label("Points may fall as levels rise, on purpose").check()
    page.keyboard.press("Escape")
    expect(first).to_contain_text("points fall, on purpose")
    page.get_by_role("button", name="Finalise").click()
    expect(page.get_by_text("final", exact=True)).to_be_visible()


def drag(thing: Locator, onto: Locator) -> None:
    """Drag by the mouse, letting go only where the target says that it takes the thing."""
    mouse = thing.page.mouse
    for _ in range(5):
        thing.hover()
        mouse.down()
        there = onto.bounding_box()
        assert there is not None
        x, y = there["x"] + there["width"] / 2, there["y"] + there["height"] / 2
        mouse.move(x - 8, y, steps=4)
        mouse.move(x, y, steps=2)
        taken = onto.evaluate("element => element.classList.contains('over')")
        mouse.up()
        if taken:
            return
    pytest.fail("nothing takes what is dragged")


def test_an_outcome_is_dragged_onto_a_criterion(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    drag(page.locator(".grip", has_text="A1"), criteria(page).first)
    expect(criteria(page).first.get_by_role("button", name="Not aligned to A1")).to_be_visible()
    expect(page.get_by_label("is evidence of this value on A1").last).to_have_value("4.00")


def test_what_a_student_sees_has_no_points_where_they_are_not_shown(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    page.get_by_label("Students see the points").uncheck()
    saved(page)
    page.get_by_role("button", name="See as student").click()
    sheet = page.locator(".sheet")
    expect(sheet).to_contain_text("Measures it along the line that is walked")
    expect(sheet.locator("dt").first).to_have_text("Beyond")
    assert violations(page) == []
    page.emulate_media(media="print")
    expect(page.get_by_role("banner")).to_be_hidden()
    expect(page.get_by_role("button", name="Print or save as PDF")).to_be_hidden()
    assert page.pdf()[:5] == b"%PDF-"
    page.emulate_media(media="screen")
    page.get_by_role("button", name="Back to the editor").click()
    expect(page.get_by_label("Students see the points")).not_to_be_checked()


def test_no_remark_is_asked_for_where_remarks_are_off(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    page.get_by_role("button", name="More on Measures").click()
    page.get_by_label("Remarks on this criterion").uncheck()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="All equal").click()
    page.get_by_role("button", name="Finalise").click()
    expect(page.get_by_text("final", exact=True)).to_be_visible()
    body = {"title": "Tides", "kind": "observed", "rubric_id": 5}
    made = page.request.post("/api/classes/1/tasks", data=body, headers=ME).json()
    page.goto(f"/classes/1/marking/{made['id']}")
    expect(page.get_by_role("radio").first).to_be_visible()
    expect(page.get_by_label("Remark C")).to_have_count(0)
    page.keyboard.press("ArrowDown")
    expect(page.get_by_label("Remark C")).to_be_visible()


def test_the_library_is_tagged_searched_archived_and_shared(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics")
    rows = page.locator("tbody tr")
    expect(rows).to_have_count(5)
    page.get_by_role("button", name="change of Route card").click()
    page.get_by_label("Tags of Route card").fill("bearings, at night")
    page.keyboard.press("Enter")
    expect(rows.filter(has_text="Route card")).to_contain_text("at night")
    page.get_by_role("button", name="at night", exact=True).click()
    expect(rows).to_have_count(1)
    page.get_by_role("button", name="at night", exact=True).click()
    page.get_by_label("Search the rubrics").fill("tide")
    expect(rows).to_have_count(1)
    choose(page, "More on Tide table check", "Archive")
    expect(page.get_by_text("No rubric fits this search.")).to_be_visible()
    page.get_by_label("Archived (1)").check()
    choose(page, "More on Tide table check", "Restore")
    page.get_by_label("Archived (0)").click()
    page.get_by_label("Search the rubrics").fill("")
    expect(rows).to_have_count(5)
    choose(page, "More on Route card", "Share within the school")
    expect(rows.filter(has_text="Route card")).to_contain_text("shared")


def test_a_rubric_is_copied_for_a_class_that_teaches_other_outcomes(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/")
    body = {"name": "Tide Room", "first_day": "2026-09-01", "last_day": "2027-06-30"}
    number = page.request.post("/api/classes", data=body, headers=ME).json()["id"]
    outcome = {"code": "w1", "title": "I can steer by compass"}
    assert page.request.post(f"/api/classes/{number}/outcomes", data=outcome, headers=ME).ok
    page.goto(f"/classes/{number}/tasks")
    page.get_by_role("heading", name="Tasks", exact=True).click()
    page.keyboard.press("a")
    page.get_by_label("Rubric", exact=True).select_option("Route card")
    expect(page.get_by_text("This class does not teach")).to_contain_text("W1, R1, W2, W3, A2")
    page.get_by_role("link", name="Rubrics").click()
    choose(page, "More on Route card", "Copy")
    expect(page.get_by_text("This class teaches nothing for")).to_contain_text("R1, W2, W3, A2")
    expect(page.get_by_label("Title of the rubric")).to_have_value("Route card (copy)")
    aligned = page.get_by_role("button", name="Not aligned to w1 any more")
    expect(aligned).to_have_count(1)


def test_a_colleague_copies_a_shared_rubric_and_cannot_change_it(
    demo_server: Server, open_page: Open
) -> None:
    """Seen by the colleague in the revision that is in force, not in the draft of the next."""
    database = Database(demo_server.data / "jade-ladder.sqlite3")
    jun = add_teacher(database, NewTeacher("Jun", "Okoro", "jun@tern.example", "tide and compass"))
    database.close()
    owner = open_page(demo_server, "/classes/1/rubrics")
    choose(owner, "More on Map of a place", "Share within the school")
    expect(owner.locator("tr", has_text="Map of a place")).to_contain_text("shared")
    page = open_page(demo_server, "/", signed_in=False)
    page.get_by_label("E-mail").fill("jun@tern.example")
    page.get_by_label("Password").fill("tide and compass")
    page.get_by_role("button", name="Sign in", exact=True).click()
    page.get_by_role("button", name="Make a class").click()
    page.get_by_label("Name").fill("Chart Room")
    page.get_by_role("button", name="Make the class").click()
    page.get_by_role("link", name="Rubrics").click()
    expect(page.get_by_role("heading", name="Shared by colleagues")).to_be_visible()
    expect(page.get_by_role("row", name="Map of a place")).to_contain_text("Ilse Varga")
    assert page.request.get("/api/rubrics/2").status == 404
    of_jun = {"jade-ladder-person": str(jun)}
    answer = page.request.post("/api/rubrics/2/draft", data={"version": 1}, headers=of_jun)
    assert answer.status == 404
    page.get_by_role("button", name="Copy for this class Map of a place").click()
    expect(page.get_by_text("This class teaches nothing for")).to_contain_text("M1, R2, M2, M3")
    expect(page.get_by_label("Title of criterion 2")).to_have_value("Keeps to scale")
    owner.reload()
    expect(owner.locator("tbody tr")).to_have_count(5)


def test_odd_weights_points_and_outcomes_are_named_where_they_are(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    side = page.get_by_role("complementary", name="What the rubric leads to")
    page.get_by_label("Weight of").nth(0).fill("100")
    page.get_by_label("Weight of").nth(1).fill("0")
    saved(page)
    title = page.get_by_label("Title of criterion 2").input_value()
    expect(side).to_contain_text(f"Without a weight: {title}")
    page.get_by_role("button", name="Finalise").click()
    expect(page.get_by_role("alert")).to_contain_text(f"Without a weight: {title}")
    side.get_by_role("button", name="All equal").click()
    expect(side).to_contain_text("The weights come to 100%.")
    expect(page.get_by_role("alert")).to_be_hidden()
    points = criteria(page).first.get_by_label("Points of")
    points.nth(0).fill("2,5")
    points.nth(1).fill("2.50")
    expect(side).to_contain_text("1 criterion has two levels with the same points.")
    points.nth(1).fill("3,5")
    expect(side).not_to_contain_text("the same points")
    # An outcome is retired while it is aligned: told here, and the alignment stays.
    outcome = page.request.get("/api/rubrics/5").json()["criteria"][0]["alignments"][0]
    path = f"/api/classes/1/outcomes/{outcome['outcome_id']}/retired"
    assert page.request.put(path, data={"retired": True}, headers=ME).ok
    saved(page)
    page.reload()
    expect(criteria(page).first).to_contain_text("retired")
    page.get_by_label("Title of criterion 1").fill("Reads the table")
    saved(page)
    (kept,) = page.request.get("/api/rubrics/5").json()["criteria"][0]["alignments"]
    assert kept == outcome
