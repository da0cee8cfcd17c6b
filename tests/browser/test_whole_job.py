"""The whole job once, as a teacher would do it on their own class list."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, choose

CLASS_LIST = """Family name\tGiven name\tStudent ID
Adeyemi\tOlu\t4401
Brännström\tMaj\t4402
Castellanos-Iturbe\tPilar\t4403
"""
OUTCOMES = """Strand;Code;Title
Kites;K1;I can build a kite that flies
Kites;K2;I can explain lift
Workshop;T1;I can use tools safely
"""


def test_from_an_empty_school_to_mastery(
    empty_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(empty_server, signed_in=False)
    first_start(page)
    make_class(page)
    bring_in_students(page)
    bring_in_outcomes(page)
    make_rubric(page)
    set_task(page)
    mark_three_by_keyboard(page)
    read_the_wall(page)
    change_the_method(page)


def first_start(page: Page) -> None:
    expect(page.get_by_role("heading", name="Welcome: make the first teacher")).to_be_visible()
    page.get_by_label("School", exact=True).fill("Windward School")
    page.get_by_label("Time zone of the school").select_option("Europe/Lisbon")
    page.get_by_label("Given name").fill("Tova")
    page.get_by_label("Family name").fill("Lindqvist")
    page.get_by_label("E-mail").fill("tova@windward.example")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_text("A password has at least 10 characters")).to_be_visible()
    expect(page.get_by_label("Given name")).to_have_value("Tova")
    page.get_by_label("Password").fill("four winds and a kite")
    page.get_by_role("button", name="Begin").click()


def make_class(page: Page) -> None:
    page.get_by_role("button", name="Make a class").click()
    page.get_by_label("Name").fill("Kite Workshop · Year 8")
    page.get_by_role("button", name="Make the class").click()


def bring_in_students(page: Page) -> None:
    page.get_by_role("button", name="Import a class list").first.click()
    text = page.get_by_label("Text of a class list")
    text.fill(CLASS_LIST.replace("4403", "4402"))
    expect(page.get_by_text("The identifier 4402 stands in line 3 already")).to_be_visible()
    expect(page.get_by_role("button", name="Add 2")).to_be_disabled()
    text.fill(CLASS_LIST)
    page.get_by_role("button", name="Add 3").click()
    expect(page.get_by_role("cell", name="Castellanos-Iturbe", exact=True)).to_be_visible()
    expect(page.get_by_text("3 students", exact=True)).to_be_visible()


def bring_in_outcomes(page: Page) -> None:
    page.get_by_role("link", name="Outcomes").click()
    page.get_by_role("button", name="Import a list").first.click()
    page.locator("textarea").first.fill(OUTCOMES)
    expect(page.get_by_text("New strands: Kites, Workshop.")).to_be_visible()
    page.get_by_role("button", name="Add 3").click()
    expect(page.get_by_role("region", name="Import a list of outcomes")).to_be_hidden()
    expect(page.get_by_text("I can explain lift")).to_be_visible()
    page.keyboard.press("a")
    page.get_by_label("Code", exact=True).fill("k1")
    page.get_by_label("Title", exact=True).fill("Twice")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(
        page.get_by_text("K1 is the code of “I can build a kite that flies” already")
    ).to_be_visible()
    page.get_by_label("Code", exact=True).fill("T2")
    page.get_by_label("Title", exact=True).fill("I can mend what I broke")
    page.get_by_label("Strand", exact=True).select_option("Workshop")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("T2 is added")).to_be_visible()
    expect(page.get_by_label("Code", exact=True)).to_be_focused()


def make_rubric(page: Page) -> None:
    page.get_by_role("link", name="Rubrics").click()
    page.get_by_role("button", name="Begin a rubric").click()
    page.get_by_label("Title of the new rubric").fill("Kite")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Add a criterion").click()
    page.keyboard.type("Flies")
    choose(page, "Align to an outcome: Flies", "K1 · I can build a kite that flies")
    expect(page.get_by_label("Arrived is evidence of this value on K1")).to_have_value("3.00")
    page.get_by_label("Points of Beyond").fill("lots")
    expect(page.get_by_text("“lots” is not a number")).to_be_visible()
    expect(page.get_by_label("Points of Beyond")).to_have_attribute("aria-invalid", "true")
    page.get_by_label("Points of Beyond").fill("4")
    expect(page.get_by_text("“lots” is not a number")).to_be_hidden()
    page.get_by_role("button", name="Yes / no criterion").click()
    page.keyboard.type("Tools put back")
    choose(page, "Align to an outcome: Tools put back", "T1 · I can use tools safely")
    page.get_by_label("Weight of Flies in per cent").fill("70")
    expect(page.get_by_text("The weights come to 70%, not to 100%")).to_be_visible()
    page.get_by_role("button", name="Finalise").click()
    expect(page.get_by_role("alert")).to_contain_text("The weights come to 70%")
    page.get_by_role("button", name="share out the missing 30%").click()
    expect(page.get_by_label("Weight of Tools put back in per cent")).to_have_value("30")
    expect(page.get_by_text("Nothing is missing.")).to_be_visible()
    page.get_by_role("button", name="Finalise").click()
    expect(page.get_by_text("final", exact=True)).to_be_visible()


def set_task(page: Page) -> None:
    page.get_by_role("link", name="Tasks").click()
    page.get_by_role("button", name="Set the first task").click()
    page.get_by_role("button", name="Set the task").click()
    expect(page.get_by_text("Choose a rubric")).to_be_visible()
    page.get_by_label("Title", exact=True).fill("First flight")
    page.get_by_label("Rubric", exact=True).select_option("Kite")
    page.get_by_role("button", name="Set the task").click()
    expect(page.get_by_role("heading", name="First flight")).to_be_visible()
    choose(page, "More on Olu Adeyemi", "Enter work")
    page.get_by_label("Work of Olu Adeyemi").fill(
        "It flew for two minutes.\n\nThen the line broke."
    )
    page.get_by_role("button", name="Save the work").click()
    expect(page.get_by_role("link", name="Mark 1")).to_be_visible()


def mark_three_by_keyboard(page: Page) -> None:
    page.get_by_role("link", name="Mark 1").click()
    expect(page.get_by_text("It flew for two minutes.")).to_be_visible()
    for levels in ("42", "22", "12"):
        expect(page.get_by_text("2 criteria still to mark.")).to_be_visible()
        page.keyboard.press(levels[0])
        page.keyboard.press("ArrowDown")
        page.keyboard.press(levels[1])
        expect(page.get_by_text("All marked; finish, and it counts.")).to_be_visible()
        page.keyboard.press("Control+Enter")
        page.keyboard.press("PageDown")
    expect(page.get_by_text("All marked", exact=True)).to_be_visible()
    expect(page.locator("nav.who").get_by_text("done")).to_have_count(3)


def read_the_wall(page: Page) -> None:
    page.get_by_role("link", name="Mastery").click()
    wall = page.get_by_role("grid", name="Mastery wall")
    row = wall.get_by_role("row", name="Olu Adeyemi")
    expect(row.get_by_role("gridcell").first).to_have_attribute(
        "aria-label", "4.00, level 4 of 4, Beyond, mastered"
    )
    expect(row).to_contain_text("2 of 4")
    wall.get_by_role("row", name="Maj Brännström").get_by_role("gridcell").first.click()
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail).to_contain_text("one piece of evidence: 2.00")
    expect(trail).to_contain_text("First flight")
    page.keyboard.press("Escape")
    expect(trail).to_be_hidden()


def change_the_method(page: Page) -> None:
    """A second, worse flight; under highest the first one counts again."""
    page.get_by_role("link", name="Tasks").click()
    page.keyboard.press("a")
    page.get_by_label("Title", exact=True).fill("Second flight")
    page.get_by_label("Rubric", exact=True).select_option("Kite")
    page.get_by_role("button", name="Set the task").click()
    page.get_by_role("link", name="Open the desk").click()
    page.get_by_role("radio", name="Setting out").click()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("1")
    page.keyboard.press("Control+Enter")
    expect(page.locator("nav.who [aria-current=true]")).to_contain_text("Maj Brännström")
    page.get_by_role("link", name="Mastery").click()
    cell = page.get_by_role("row", name="Olu Adeyemi").get_by_role("gridcell").first
    expect(cell).to_have_attribute("aria-label", "2.20, level 2 of 4, On the way, down, slipped")
    page.get_by_role("link", name="Outcomes").click()
    page.get_by_label("Method of the class").select_option("highest")
    expect(page.get_by_text("1 level would change:")).to_be_visible()
    page.get_by_role("button", name="Use this method").click()
    expect(page.get_by_text("The method is changed; no evidence was touched")).to_be_visible()
    page.get_by_role("link", name="Mastery").click()
    expect(cell).to_have_attribute("aria-label", "4.00, level 4 of 4, Beyond, mastered")
