"""The whole job once, by keyboard alone, as a teacher would do it on their own class list."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server

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


# Of all stops of Tab on the fullest page here; further is a trap.
MOST_STOPS = 120


# How many stops of Tab there are from what has the focus to a control, back where negative.
STOPS = """target => {
  const all = [...document.querySelectorAll(
    'a[href], button, input, select, textarea, summary, [tabindex]')].filter(
    one => one.tabIndex >= 0 && !one.disabled && one.getClientRects().length)
  return all.includes(target) ? all.indexOf(target) - all.indexOf(document.activeElement) : 0
}"""


def reach(target: Locator, key: str = "Tab") -> None:
    """Go to a control by Tab, the nearer way, or by arrows among what is one stop, as far as it
    takes.
    """
    expect(target).to_be_visible()
    if key == "Tab":
        stops = target.evaluate(STOPS)
        for _ in range(abs(stops)):
            target.page.keyboard.press("Tab" if stops > 0 else "Shift+Tab")
    for _ in range(MOST_STOPS):
        if target.evaluate("one => one === document.activeElement"):
            return
        target.page.keyboard.press(key)
    raise AssertionError(f"{key} does not lead to {target}")


def press(target: Locator) -> None:
    reach(target)
    target.page.keyboard.press("Enter")


def write(target: Locator, text: str) -> None:
    """Write into a field, in place of what is there; a long text as if pasted."""
    reach(target)
    target.page.keyboard.press("Control+a")
    target.page.keyboard.insert_text(text)


def select(target: Locator, option: str) -> None:
    """Choose by its first letters."""
    reach(target)
    target.page.keyboard.type(option)
    expect(target.locator("option:checked")).to_have_text(option)


def choose(page: Page, menu: str, item: str) -> None:
    """Open a menu and go down to an item."""
    press(page.get_by_role("button", name=menu, exact=True))
    reach(page.get_by_role("menuitem", name=item, exact=True), "ArrowDown")
    page.keyboard.press("Enter")


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
    write(page.get_by_label("School", exact=True), "Windward School")
    select(page.get_by_label("Time zone of the school"), "Europe/Lisbon")
    write(page.get_by_label("Given name"), "Tova")
    write(page.get_by_label("Family name"), "Lindqvist")
    write(page.get_by_label("E-mail"), "tova@windward.example")
    write(page.get_by_label("Password"), "short")
    press(page.get_by_role("button", name="Begin"))
    expect(page.get_by_text("A password has at least 10 characters")).to_be_visible()
    expect(page.get_by_label("Given name")).to_have_value("Tova")
    write(page.get_by_label("Password"), "four winds and a kite")
    press(page.get_by_role("button", name="Begin"))


def make_class(page: Page) -> None:
    press(page.get_by_role("button", name="Make a class"))
    write(page.get_by_label("Name"), "Kite Workshop · Year 8")
    press(page.get_by_role("button", name="Make the class"))


def bring_in_students(page: Page) -> None:
    page.get_by_role("button", name="Import a class list").first.click()
    text = page.get_by_label("Text of a class list")
    write(text, CLASS_LIST.replace("4403", "4402"))
    expect(page.get_by_text("The identifier 4402 is in line 3 already")).to_be_visible()
    expect(page.get_by_role("button", name="Add 2")).to_be_disabled()
    write(text, CLASS_LIST)
    press(page.get_by_role("button", name="Add 3"))
    expect(page.get_by_role("cell", name="Castellanos-Iturbe", exact=True)).to_be_visible()
    expect(page.get_by_text("3 students", exact=True)).to_be_visible()


def bring_in_outcomes(page: Page) -> None:
    press(page.get_by_role("link", name="Outcomes", exact=True))
    page.get_by_role("button", name="Import a list").first.click()
    page.locator("textarea").first.fill(OUTCOMES)
    expect(page.get_by_text("New strands: Kites, Workshop.")).to_be_visible()
    press(page.get_by_role("button", name="Add 3"))
    expect(page.get_by_role("region", name="Import a list of outcomes")).to_be_hidden()
    expect(page.get_by_text("I can explain lift")).to_be_visible()
    page.keyboard.press("a")
    write(page.get_by_label("Code", exact=True), "k1")
    write(page.get_by_label("Title", exact=True), "Twice")
    press(page.get_by_role("button", name="Add", exact=True))
    expect(
        page.get_by_text("K1 is the code of “I can build a kite that flies” already")
    ).to_be_visible()
    write(page.get_by_label("Code", exact=True), "T2")
    write(page.get_by_label("Title", exact=True), "I can mend what I broke")
    select(page.get_by_label("Strand", exact=True), "Workshop")
    press(page.get_by_role("button", name="Add", exact=True))
    expect(page.get_by_text("T2 is added")).to_be_visible()
    expect(page.get_by_label("Code", exact=True)).to_be_focused()


def make_rubric(page: Page) -> None:
    press(page.get_by_role("link", name="Rubrics"))
    press(page.get_by_role("button", name="Begin a rubric"))
    write(page.get_by_label("Title of the new rubric"), "Kite")
    page.keyboard.press("Enter")
    press(page.get_by_role("button", name="Add a criterion"))
    page.keyboard.type("Flies")
    reach(page.get_by_role("button", name="Align to an outcome: Flies"), "ArrowDown")
    choose(page, "Align to an outcome: Flies", "K1 · I can build a kite that flies")
    expect(page.get_by_label("Arrived is evidence of this value on K1")).to_have_value("3.00")
    points = page.get_by_label("Points of Beyond")
    reach(page.get_by_label("Descriptor of Beyond"))
    reach(points, "ArrowUp")
    write(points, "lots")
    expect(page.get_by_text("“lots” is not a number")).to_be_visible()
    expect(points).to_have_attribute("aria-invalid", "true")
    write(points, "4")
    expect(page.get_by_text("“lots” is not a number")).to_be_hidden()
    press(page.get_by_role("button", name="Yes / no criterion"))
    page.keyboard.type("Tools put back")
    reach(page.get_by_role("button", name="Align to an outcome: Tools put back"), "ArrowDown")
    choose(page, "Align to an outcome: Tools put back", "T1 · I can use tools safely")
    weight = page.get_by_label("Weight of Flies in per cent")
    reach(page.get_by_role("button", name="Align to an outcome: Flies"))
    reach(weight, "ArrowDown")
    write(weight, "70")
    expect(page.get_by_text("The weights come to 70%, not to 100%")).to_be_visible()
    press(page.get_by_role("button", name="Finalise"))
    expect(page.get_by_role("alert")).to_contain_text("The weights come to 70%")
    press(page.get_by_role("button", name="share out the missing 30%"))
    expect(page.get_by_label("Weight of Tools put back in per cent")).to_have_value("30")
    expect(page.get_by_text("Nothing is missing.")).to_be_visible()
    press(page.get_by_role("button", name="Finalise"))
    expect(page.get_by_text("final", exact=True)).to_be_visible()


def set_task(page: Page) -> None:
    press(page.get_by_role("link", name="Tasks"))
    press(page.get_by_role("button", name="Set the first task"))
    press(page.get_by_role("button", name="Set the task"))
    expect(page.get_by_text("Choose one of your rubrics")).to_be_visible()
    write(page.get_by_label("Title", exact=True), "First flight")
    select(page.get_by_label("Rubric", exact=True), "Kite")
    press(page.get_by_role("button", name="Set the task"))
    expect(page.get_by_role("heading", name="First flight")).to_be_visible()
    choose(page, "More on Olu Adeyemi", "Enter work")
    work = page.get_by_label("Work of Olu Adeyemi")
    write(work, "It flew for two minutes.\n\nThen the line broke.")
    press(page.get_by_role("button", name="Save the work"))
    expect(page.get_by_role("link", name="Mark 1")).to_be_visible()


def mark_three_by_keyboard(page: Page) -> None:
    press(page.get_by_role("link", name="Mark 1"))
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
    press(page.get_by_role("link", name="Mastery"))
    wall = page.get_by_role("grid", name="Mastery wall")
    row = wall.get_by_role("row", name="Olu Adeyemi")
    expect(row.get_by_role("gridcell").first).to_have_attribute(
        "aria-label", "4.00, level 4 of 4, Beyond, mastered"
    )
    expect(row).to_contain_text("2 of 4")
    reach(row.get_by_role("gridcell").first)
    page.keyboard.press("ArrowDown")
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail).to_contain_text("one piece of evidence: 2.00")
    expect(trail).to_contain_text("First flight")
    page.keyboard.press("Escape")
    expect(trail).to_be_hidden()


def change_the_method(page: Page) -> None:
    """A second, worse flight; under highest the first one counts again."""
    press(page.get_by_role("link", name="Tasks"))
    page.keyboard.press("a")
    write(page.get_by_label("Title", exact=True), "Second flight")
    select(page.get_by_label("Rubric", exact=True), "Kite")
    press(page.get_by_role("button", name="Set the task"))
    press(page.get_by_role("link", name="Open the desk"))
    expect(page.get_by_role("radio", name="Setting out")).to_be_visible()
    page.keyboard.press("1")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("1")
    page.keyboard.press("Control+Enter")
    expect(page.locator("nav.who [aria-current=true]")).to_contain_text("Maj Brännström")
    press(page.get_by_role("link", name="Mastery"))
    cell = page.get_by_role("row", name="Olu Adeyemi").get_by_role("gridcell").first
    expect(cell).to_have_attribute("aria-label", "2.20, level 2 of 4, On the way, down, slipped")
    press(page.get_by_role("link", name="Outcomes", exact=True))
    select(page.get_by_label("Method of the class"), "Highest")
    expect(page.get_by_text("1 level would change:")).to_be_visible()
    press(page.get_by_role("button", name="Use this method"))
    expect(page.get_by_text("The method is changed; no evidence was touched")).to_be_visible()
    press(page.get_by_role("link", name="Mastery"))
    expect(cell).to_have_attribute("aria-label", "4.00, level 4 of 4, Beyond, mastered")
