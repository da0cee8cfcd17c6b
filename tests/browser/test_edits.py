"""Changing what is there: class list, outcomes, scale, rubric cells, tasks; and refusals there."""

from __future__ import annotations

import io
import json
import re
import time
from collections.abc import Callable

import openpyxl
from playwright.sync_api import Page, expect

from tests.browser.conftest import ME, OUTCOMES_MENU, Server, choose, saved


def test_a_student_is_added_changed_leaves_and_returns(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/students")
    page.get_by_role("button", name="Add a student").click()
    page.get_by_label("Given name").fill("Sigrun")
    page.get_by_label("Family name").fill("Berge")
    page.get_by_label("Identifier").fill("T901")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("T901 belongs to somebody else")
    page.get_by_label("Identifier").fill("T977")
    page.get_by_label("E-mail").fill("sigrun")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("“sigrun” is not an e-mail")).to_be_visible()
    page.get_by_label("E-mail").fill("sigrun@tern.example")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("27 students")).to_be_visible()
    page.get_by_role("button", name="Change Sigrun Berge").click()
    page.get_by_label("Given name").fill("Sigrún")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("cell", name="Sigrún", exact=True)).to_be_visible()
    page.get_by_role("button", name="Change Sigrún Berge").click()
    page.get_by_role("button", name="Has left the class").click()
    left_on = page.get_by_label("Left on")
    expect(left_on).to_be_focused()
    today = left_on.input_value()
    left_on.fill("2026-01-01")
    page.get_by_role("button", name="Save that they left").click()
    expect(page.get_by_text("choose that day or later")).to_be_visible()
    left_on.fill(today)
    page.get_by_role("button", name="Save that they left").click()
    expect(page.get_by_text("26 students")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("27 students")).to_be_visible()
    page.get_by_role("button", name="Change Sigrún Berge").click()
    page.get_by_role("button", name="Has left the class").click()
    page.get_by_role("button", name="Save that they left").click()
    expect(page.get_by_text("26 students")).to_be_visible()
    expect(page.get_by_role("row", name="Sigrún")).to_contain_text("left")
    page.get_by_role("button", name="Change Sigrún Berge").click()
    page.get_by_role("button", name="Return to the class").click()
    expect(page.get_by_text("27 students")).to_be_visible()


def test_names_are_sorted_by_the_rules_of_the_schools_language(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    """In Swedish Å is a letter of its own, after Z; in English it is an A."""
    page = open_page(demo_server, "/")
    student = {"given_name": "Maj", "family_name": "Åberg"}
    assert page.request.post("/api/classes/1/students", data=student, headers=ME).ok

    def place(path: str) -> tuple[bool, bool]:
        page.goto(path)
        names = page.locator("tbody tr, [role=rowheader]")
        expect(names.filter(has_text="Åberg")).to_be_visible()
        texts = names.all_inner_texts()
        return "Åberg" in " ".join(texts[:3]), "Åberg" in texts[-1]

    for path in ("/classes/1/students", "/classes/1/tasks/9", "/classes/1/mastery"):
        assert place(path) == (True, False), path
    page.goto("/")
    page.get_by_label("Sort names as in").select_option("Swedish")
    expect(page.get_by_text("Names are sorted as in Swedish")).to_be_visible()
    for path in ("/classes/1/students", "/classes/1/tasks/9", "/classes/1/mastery"):
        assert place(path) == (False, True), path


def test_the_class_is_renamed_and_its_days_must_fit(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/students")
    page.get_by_label("Last day").fill("2020-01-01")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("The last day must come after the first")).to_be_visible()
    page.get_by_label("Last day").fill("2028-01-01")
    page.get_by_label("Name", exact=True).fill("Chart Room")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_label("Class", exact=True)).to_contain_text("Chart Room")


def test_a_class_list_of_ones_own_is_assigned_corrected_left_out_and_undone(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    """Headings that nobody knows, an unquoted comma, an identifier twice."""
    page = open_page(demo_server, "/classes/1/students")
    page.get_by_role("button", name="Import a class list").click()
    text = page.get_by_label("Text of a class list")
    text.fill("Wer,Zahl,Bus\nMina Berge,K1,A\nOkafor, Chidi,K2,B\nBo Lund,K3,A\nKai Nord,K3,B\n")
    expect(page.get_by_role("alert")).to_contain_text("Choose the column that holds the names")
    page.get_by_label("Whole name").select_option("Wer: Mina Berge, Okafor, Bo Lund")
    page.get_by_label("Identifier", exact=True).select_option("Zahl: K1, Chidi, K3")
    expect(page.get_by_text("Not imported: Bus.")).to_be_visible()
    expect(page.get_by_text("2 lines with a problem")).to_be_visible()
    page.get_by_label("Given name of line 3").fill("Chidi")
    page.get_by_label("Family name of line 3").fill("Okafor")
    page.get_by_label("Identifier of line 3").fill("K2")
    page.get_by_label("Identifier of line 3").blur()
    expect(page.get_by_text("1 line with a problem")).to_be_visible()
    expect(page.get_by_role("button", name="Add 3")).to_be_disabled()
    page.get_by_role("button", name="Leave 1 line out").click()
    expect(page.get_by_text("3 students added")).to_be_visible()
    expect(page.get_by_role("cell", name="Okafor", exact=True)).to_have_count(2)
    expect(page.get_by_text("1 line was left out and is here now")).to_be_visible()
    expect(text).to_have_value(re.compile("Kai,Nord,K3"))
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("The import of 3 students is undone")).to_be_visible()
    expect(page.get_by_text("26 students", exact=True)).to_be_visible()


def test_a_spreadsheet_is_read_by_sheet(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    book = openpyxl.Workbook()
    book.active.append(["Klasse 9 B"])
    book.active.append(["Nachname", "Rufname", "Matrikel"])
    book.active.append(["Özdemir", "Bo", 4401])
    book.create_sheet("9 C").append(["Name", "ID"])
    book["9 C"].append(["Kai Nord", 4402])
    out = io.BytesIO()
    book.save(out)
    page = open_page(demo_server, "/classes/1/students")
    page.get_by_role("button", name="Import a class list").click()
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    page.locator("input[type=file]").set_input_files(
        {"name": "9.xlsx", "mimeType": kind, "buffer": out.getvalue()}
    )
    expect(page.get_by_role("row", name="Özdemir")).to_contain_text("4401")
    expect(page.get_by_text("Passed over above the headings: Klasse 9 B")).to_be_visible()
    # The other sheet is chosen at once and comes late: what was read before stays away.
    page.route("**/list/preview", lambda route: (time.sleep(0.7), route.continue_()))
    page.get_by_label("Sheet").select_option("9 C")
    expect(page.get_by_role("row", name="Nord")).to_contain_text("4402")
    page.get_by_role("button", name="Add 1").click()
    expect(page.get_by_text("1 student added")).to_be_visible()


def test_a_file_in_another_encoding_is_read_and_a_picture_is_refused(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/students")
    page.get_by_role("button", name="Import a class list").click()
    chooser = page.locator("input[type=file]")
    picture = b"\x89PNG\r\n\x1a\n\0\0\0\0"
    chooser.set_input_files({"name": "a.csv", "mimeType": "text/csv", "buffer": picture})
    expect(page.get_by_role("alert")).to_contain_text(
        "neither a spreadsheet (XLSX) nor a text file"
    )
    content = "Given name;Surname\nÅsa;Öberg\n".encode("cp1252")
    chooser.set_input_files({"name": "b.csv", "mimeType": "text/csv", "buffer": content})
    expect(page.get_by_role("row", name="Öberg")).to_contain_text("Åsa")
    page.get_by_role("button", name="Add 1").click()
    expect(page.get_by_text("1 student added")).to_be_visible()


def test_strands_and_outcomes_are_added_renamed_retired_and_restored(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    choose(page, OUTCOMES_MENU, "Add a strand")
    title = page.get_by_label("Title of the strand")
    title.fill("arguing")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("There is a strand “arguing” already")
    title.fill("Weather")
    page.keyboard.press("Enter")
    expect(page.get_by_text("The strand Weather is added")).to_be_visible()
    choose(page, "More on the strand Weather", "Change the strand")
    title.fill("Weather and tides")
    page.keyboard.press("Enter")
    choose(page, "More on the strand Weather and tides", "Move up")
    titles = page.locator(".strand h2")
    expect(titles.nth(3)).to_have_text("Weather and tides")
    choose(page, "More on the strand Weather and tides", "Delete")
    expect(titles).to_have_count(4)
    page.get_by_role("button", name="Undo").click()
    expect(titles.nth(3)).to_have_text("Weather and tides")
    choose(page, "More on the strand Weather and tides", "Delete")
    expect(titles).to_have_count(4)
    page.get_by_text("I can draw a clear map").click()
    choose(page, "More on M1", "Retire")
    expect(page.get_by_text("1 retired outcome")).to_be_visible()
    expect(page.get_by_text("10 outcomes")).to_be_visible()
    expect(page.get_by_text("M1 is retired; its evidence is kept")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("11 outcomes")).to_be_visible()


def test_an_outcomes_own_method_shows_whose_level_it_changes(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes?outcome=4")
    page.get_by_label("A method of its own").check()
    page.get_by_label("Method of this outcome").select_option("recent-mean")
    page.get_by_label("How many of the last pieces").fill("1")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("A recent mean takes the last 2 to 20 pieces, not 1")).to_be_visible()
    page.get_by_label("How many of the last pieces").fill("2")
    page.get_by_label("Minimum of evidence").fill("20")
    expect(page.get_by_text("in whether there is enough evidence")).to_be_visible()
    page.get_by_label("Minimum of evidence").fill("1")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("li.on")).to_contain_text("Mean of the last 2")
    page.goto("/classes/1/mastery?student=20&outcome=4")
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail.get_by_role("row", name="Mean of the last 2")).to_contain_text("counts")


def test_a_scale_in_use_keeps_its_number_of_levels(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/scales?scale=1")
    page.get_by_role("button", name="add a level on top").click()
    page.get_by_label("Name of level 5").fill("Far beyond")
    page.get_by_label("Code of level 5").fill("F")
    page.get_by_role("button", name="Save the scale").click()
    expect(page.get_by_role("alert")).to_contain_text("keeps its 4 levels")
    page.get_by_role("button", name="Discard the changes").click()
    page.get_by_label("Name of level 4").fill("Over the top")
    page.get_by_role("button", name="Save the scale").click()
    expect(page.get_by_text("The scale is changed")).to_be_visible()


def test_a_cell_by_hand_is_marked_kept_and_goes_back_to_the_default(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    cell = page.get_by_label("Arrived is evidence of this value on R2")
    cell.fill("2,5")
    # A value is taken over when one leaves its field, so "Saved" may still be that of before.
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        cell.press("Tab")
    page.reload()
    expect(cell).to_have_value("2.50")
    cell.fill("9")
    cell.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("The value lies between 1 and 4")
    page.get_by_role("button", name="Back to the default value for R2").click()
    expect(cell).to_have_value("3.00")
    expect(page.get_by_role("alert")).to_be_hidden()


def test_levels_are_added_and_deleted_and_the_map_follows(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    first = page.get_by_role("region", name="Measures the crossing")
    first.get_by_role(
        "button", name="Delete the level Setting out of Measures the crossing"
    ).click()
    expect(first.get_by_label("On the way is evidence of this value on R2")).to_have_value("2.00")
    page.get_by_role("button", name="More on Measures the crossing").click()
    page.get_by_role("button", name="Add a level on top").click()
    page.get_by_role("button", name="More on Measures the crossing").click()
    page.get_by_role("button", name="Add a level on top").click()
    names = first.get_by_label("Name of a level of Measures the crossing")
    names.nth(3).fill("Far")
    names.nth(4).fill("Farther")
    expect(first.get_by_label("Farther is evidence of this value on R2")).to_have_value("4.00")
    expect(first.get_by_label("On the way is evidence of this value on R2")).to_have_value("1.00")


def test_a_task_is_changed_and_refusals_are_told_at_the_field(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/tasks/8")
    page.get_by_role("button", name="Change the task").click()
    page.get_by_label("Points").fill("many")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("“many” is not a number")).to_be_visible()
    page.get_by_label("Points").fill("20")
    page.get_by_label("Kind").select_option("observed")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Part of this task is marked already")).to_be_visible()
    page.get_by_label("Kind").select_option("handed-in")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("This changes what is marked")).to_be_visible()
    page.get_by_role("button", name="Save, with these changes").click()
    expect(page.get_by_text("Saved")).to_be_visible()
    choose(page, "More on Bettina Lund", "Excuse")
    expect(page.get_by_role("row", name="Bettina Lund")).to_contain_text("excused")
    page.goto("/classes/1/marking/8")
    expect(page.locator(".foot")).to_contain_text("of 12")


def test_excusing_says_what_it_takes_away_and_is_undone(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    def mastered() -> int:
        wall = page.request.get("/api/classes/1/mastery").json()
        return sum(one["mastered"] for one in wall["students"])

    page = open_page(demo_server, "/classes/1/tasks/6")
    before = mastered()
    choose(page, "More on Ilir Dema", "Excuse …")
    form = page.get_by_role("region", name="Excuse Ilir Dema")
    expect(form).to_contain_text("will no longer count as evidence")
    expect(form).to_contain_text("3 outcomes are no longer mastered then")
    form.get_by_role("button", name="Excuse").click()
    expect(page.get_by_text("is excused; the mark no longer counts")).to_be_visible()
    assert mastered() == before - 3
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Ilir Dema is not excused")).to_be_visible()
    assert mastered() == before


def test_a_task_nobody_has_touched_can_be_deleted(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/tasks/9")
    choose(page, "More to do with this task", "Delete this task")
    expect(page.get_by_role("heading", name="Tasks", exact=True)).to_be_visible()
    expect(page.get_by_role("link", name="Map for a visitor")).to_be_hidden()


def test_the_server_gone_is_told_on_every_page_and_nothing_typed_is_lost(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    title = page.get_by_label("Title of criterion 1")
    expect(title).to_have_value("Measures the crossing")
    demo_server.stop()
    title.fill("Measures twice")
    expect(page.get_by_text("Not saved: the server does not answer.")).to_be_visible()
    demo_server.start()
    saved(page)
    page.reload()
    expect(title).to_have_value("Measures twice")
    demo_server.stop()
    page.get_by_role("link", name="Tasks").click()
    expect(page.get_by_role("alert")).to_contain_text("The server does not answer")
    demo_server.start()
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("link", name="Map for a visitor")).to_be_visible()


def test_a_scale_is_made_from_a_ready_one_and_an_outcome_put_on_it(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/scales")
    page.get_by_role("heading", name="Proficiency scales").click()
    page.keyboard.press("a")
    page.get_by_role("button", name="3 levels").click()
    page.get_by_label("Name of the scale").fill("School scale")
    page.get_by_role("button", name="Add to the library").click()
    expect(page.get_by_role("alert")).to_contain_text("There is a scale “School scale” already")
    page.get_by_label("Name of the scale").fill("Three steps")
    page.get_by_label("What level 3 means").fill("Does it alone, every time")
    page.get_by_role("button", name="Add to the library").click()
    expect(page.get_by_text("Three steps is in the library")).to_be_visible()
    page.goto("/classes/1/outcomes?outcome=4")
    page.get_by_label("Scale", exact=True).select_option("Three steps (3 levels)")
    expect(page.get_by_text("levels would change")).to_be_visible()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved")).to_be_visible()
    page.goto("/classes/1/mastery?student=20&outcome=4")
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail.get_by_role("img", name="of 3").first).to_be_visible()
    page.goto("/classes/1/scales?scale=1")
    page.get_by_label("Cut score of level 3").fill("2.9")
    expect(page.get_by_text("levels would change")).to_be_visible()
    page.get_by_role("button", name="Discard the changes").click()
    expect(page.get_by_text("levels would change")).to_be_hidden()
    expect(page.get_by_label("Cut score of level 3")).to_have_value("2.75")


def test_an_outcome_is_lifted_for_one_student_with_a_reason_and_expected_again(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/mastery?student=20&outcome=4")
    trail = page.get_by_role("complementary", name="Evidence trail")
    row = page.get_by_role("row").filter(has=page.locator("[aria-selected=true]"))
    expect(row).to_contain_text("of 11")
    trail.get_by_role("button", name="Not expected of this student").click()
    trail.get_by_role("button", name="Not expected", exact=True).click()
    expect(trail.get_by_role("alert")).to_contain_text("A reason is needed")
    trail.get_by_label("Why is it not expected?").fill("Works on the island map only")
    trail.get_by_role("button", name="Not expected", exact=True).click()
    expect(trail).to_contain_text("Works on the island map only")
    expect(row).to_contain_text("of 10")
    expect(page.get_by_role("gridcell", name="not expected")).to_have_count(1)
    trail.get_by_role("button", name="Expect it again").click()
    expect(row).to_contain_text("of 11")
    expect(page.get_by_role("gridcell", name="not expected")).to_have_count(0)


def test_strands_are_put_within_another_and_outcomes_moved_by_mouse_and_key(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    choose(page, "More on the strand Finding the way", "Change the strand")
    page.get_by_label("Within").select_option("Reading maps")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator(".strand.within")).to_have_count(1)
    # By key, beyond the edge of its strand and into the next.
    handle = page.get_by_role("button", name="Move R3; arrow keys up and down too")
    handle.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".strand.within li").first).to_contain_text("R3")
    expect(handle).to_be_focused()
    # By mouse, from one strand into another.
    start = page.get_by_role("button", name="Move A2; arrow keys up and down too")
    goal = page.locator(".strand").first.locator("li").first
    start.scroll_into_view_if_needed()
    box = start.bounding_box()
    assert box
    page.mouse.move(box["x"] + 5, box["y"] + 5)
    page.mouse.down()
    goal.scroll_into_view_if_needed()
    box = goal.bounding_box()
    assert box
    for y in (30, 16, 8):
        page.mouse.move(box["x"] + 60, box["y"] + y, steps=6)
    # A busy machine takes a moment to see where it is held.
    page.wait_for_timeout(300)
    with page.expect_response(lambda answer: "/place" in answer.url):
        page.mouse.up()
    expect(page.locator(".strand").first).to_contain_text("A2")
    page.reload()
    expect(page.locator(".strand").first).to_contain_text("A2")


def test_several_outcomes_are_changed_together_after_what_it_does_was_shown(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    page.get_by_label("Search the outcomes").fill("bearing")
    expect(page.locator(".strand li")).to_have_count(1)
    page.get_by_label("Search the outcomes").fill("")
    choose(page, OUTCOMES_MENU, "Choose several")
    page.get_by_label("Choose R1").check()
    page.get_by_label("Choose W1").check()
    page.get_by_label("Method", exact=True).select_option("own")
    page.get_by_label("Method of these outcomes").select_option("latest")
    expect(page.get_by_text("levels would change")).to_be_visible()
    page.get_by_role("button", name="Change them").click()
    expect(page.get_by_text("2 outcomes changed")).to_be_visible()
    rows = [page.locator(".strand li").filter(has_text=code) for code in ("R1", "W1")]
    for row in rows:
        expect(row).to_contain_text("Latest")
    page.get_by_role("button", name="Undo").click()
    for row in rows:
        expect(row).not_to_contain_text("Latest")


def test_a_second_class_teaches_the_same_outcomes_or_copies_of_them(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/")
    body = {"name": "Tide Room", "first_day": "2026-09-01", "last_day": "2027-06-30"}
    made = page.request.post("/api/classes", data=body, headers=ME).json()
    page.goto(f"/classes/{made['id']}/outcomes")
    page.get_by_role("button", name="From another class").click()
    page.get_by_role("checkbox", name="W1").check()
    page.get_by_role("button", name="Teach here too").click()
    expect(page.locator(".strand li")).to_contain_text("also in Map Room")
    choose(page, OUTCOMES_MENU, "From another class")
    page.get_by_role("checkbox", name="R1").check()
    page.get_by_role("button", name="Copy to change").click()
    expect(page.locator(".strand li")).to_have_count(2)
    expect(page.locator(".strand li").filter(has_text="R1")).not_to_contain_text("also in")


def test_what_is_assessed_when_leads_to_the_page_of_an_outcome(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    page.get_by_role("button", name="Add an outcome", exact=False).first.click()
    page.get_by_label("Code").fill("Z1")
    page.get_by_label("Title", exact=True).fill("I can read the sky")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("Z1 is added")).to_be_visible()
    choose(page, OUTCOMES_MENU, "What is assessed when")
    expect(page.get_by_text("1 outcome never assessed")).to_be_visible()
    expect(page.get_by_role("row", name="Z1")).to_contain_text("never")
    row = page.get_by_role("row", name="R2")
    expect(row).to_contain_text("1 criterion, evidence for")
    expect(row).to_contain_text("1 criterion, no evidence yet")
    row.get_by_role("link", name="R2").click()
    expect(page.get_by_role("heading", name="R2 · I can use scale")).to_be_visible()
    expect(page.get_by_role("row", name="Survey of the boat field")).to_be_visible()
    expect(page.get_by_role("img", name="After Survey of the boat field")).to_be_visible()
    page.get_by_label("Title", exact=True).fill("I can measure on a map")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", name="R2 · I can measure on a map")).to_be_visible()


def test_a_framework_file_goes_out_comes_in_changed_and_is_undone(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    choose(page, OUTCOMES_MENU, "Files")
    with page.expect_download() as download:
        page.get_by_role("link", name="CASE 1.0 (JSON)").click()
    package = json.loads(download.value.path().read_text("utf-8"))
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV").click()
    assert "I can plot and follow a bearing" in download.value.path().read_text("utf-8-sig")
    items = package["CFItems"]
    (changed,) = (one for one in items if one.get("humanCodingScheme") == "W1")
    changed["fullStatement"] = "I can follow a bearing at night"
    (gone,) = (one for one in items if one.get("humanCodingScheme") == "A2")
    items.remove(gone)
    new = {"identifier": "5c1e9c50-0000-4000-8000-000000000001", "fullStatement": "I can sail"}
    items.append({**new, "humanCodingScheme": "X1"})
    chooser = page.get_by_label("Import a framework")
    content = json.dumps(package).encode()
    chooser.set_input_files({"name": "a.json", "mimeType": "application/json", "buffer": b"{"})
    expect(page.get_by_role("alert")).to_contain_text("This is not JSON: line 1")
    chooser.set_input_files({"name": "b.json", "mimeType": "application/json", "buffer": content})
    expect(page.get_by_text("1 new here, 1 changed, 9 the same, 1 gone")).to_be_visible()
    expect(page.get_by_text("was “I can plot and follow a bearing”")).to_be_visible()
    page.get_by_label("Retire the one that is gone").check()
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.get_by_text("is imported.")).to_be_visible()
    rows = page.locator(".strand li")
    expect(rows.filter(has_text="I can sail")).to_be_visible()
    expect(rows.filter(has_text="I can follow a bearing at night")).to_be_visible()
    expect(rows.filter(has_text="A2")).to_have_count(0)
    page.get_by_role("button", name="Undo the import").click()
    expect(page.get_by_text("Undone.")).to_be_visible()
    expect(rows.filter(has_text="I can sail")).to_have_count(0)
    expect(rows.filter(has_text="I can plot and follow a bearing")).to_be_visible()
    expect(rows.filter(has_text="A2")).to_be_visible()


def test_a_list_of_outcomes_goes_out_comes_in_changed_and_is_undone(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    before = page.request.get("/api/classes/1/outcomes.csv").text()
    kept = [line for line in before.splitlines() if not line.startswith("A2,")]
    changed = "\n".join(kept).replace("plot and follow a bearing", "keep to a bearing at night")
    choose(page, OUTCOMES_MENU, "Import a list")
    page.get_by_label("Text of a list of outcomes").fill(changed + "\nX1,I can sail,,Sailing\n")
    panel = page.get_by_role("region", name="Import a list of outcomes")
    expect(panel).to_contain_text("1 line to add, 1 to change.")
    expect(panel).to_contain_text("changes, was “I can plot and follow a bearing”")
    expect(panel).to_contain_text("New strands: Sailing.")
    page.get_by_label("Retire 1 outcome of the class not in this list: A2").check()
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.get_by_text("1 outcome added, 1 changed, 1 retired.")).to_be_visible()
    rows = page.locator(".strand li")
    expect(rows.filter(has_text="I can sail")).to_be_visible()
    expect(rows.filter(has_text="I can keep to a bearing at night")).to_be_visible()
    expect(rows.filter(has_text="A2")).to_have_count(0)
    page.get_by_role("button", name="Undo the import").click()
    expect(page.get_by_text("Undone.")).to_be_visible()
    assert page.request.get("/api/classes/1/outcomes.csv").text() == before
