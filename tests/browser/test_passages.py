"""Remarks on passages: by mouse and by keys, in texts, PDFs and pictures, and as students read
them.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import ME, Server
from tests.samples import docx

Open = Callable[..., Page]
ROUTE = "/classes/1/marking/8"
GORAN, MAI, FARIDA = 16, 17, 14


def work_of(page: Page, student: int, task: int = 8, attempt: int = 1) -> dict[str, Any]:
    found = page.request.get(f"/api/tasks/{task}/students/{student}/attempts/{attempt}")
    answer: dict[str, Any] = found.json()
    return answer


def passages_of(page: Page, student: int) -> list[tuple[str, str]]:
    """The remarks on passages that the server has: on what, and what."""
    return [
        (
            one["place"]["quote"]["exact"]
            if one["place"]["quote"]
            else one["place"]["shape"]["kind"],
            one["text"],
        )
        for one in work_of(page, student)["passages"]
    ]


def select(page: Page, root: Locator, words: str) -> None:
    """Select words by the pointer's way: a range, as dragging leaves it."""
    root.evaluate(
        """(root, words) => {
          const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT)
          let text = ''
          const nodes = []
          for (let node = walker.nextNode(); node; node = walker.nextNode()) {
            nodes.push([node, text.length])
            text += node.data
          }
          const from = text.indexOf(words)
          const at = (place, end) => {
            const holds = ([, start]) => (end ? start < place : start <= place)
            const [node, start] = nodes.findLast(holds)
            return [node, place - start]
          }
          const range = document.createRange()
          range.setStart(...at(from, false))
          range.setEnd(...at(from + words.length, true))
          getSelection().removeAllRanges()
          getSelection().addRange(range)
        }""",
        words,
    )


def saved(page: Page) -> None:
    expect(page.locator(".foot .saved")).to_contain_text("Saved")


def remark(page: Page, words: str) -> None:
    """Write into the passage that is open, and close it."""
    field = page.locator("[data-passage-open] textarea")
    expect(field).to_be_focused()
    page.keyboard.type(words)
    page.keyboard.press("Escape")
    expect(field).to_have_count(0)
    saved(page)


def test_words_of_a_text_are_selected_and_remarked_on(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    """By mouse and button; tied to a criterion, edited, deleted, undone."""
    page = open_page(demo_server, f"{ROUTE}/{GORAN}")
    text = page.locator("article.sheet")
    select(page, text, "agrees from both ends")
    page.get_by_role("button", name="Remark C", exact=True).click()
    remark(page, "How far off could it be?")
    mark = text.locator("mark", has_text="agrees from both ends")
    expect(mark).to_have_class("lit")
    expect(text.locator(".passage-number")).to_have_text(["1"])
    # Another criterion: its passages are lit, of which there is none yet.
    page.keyboard.press("ArrowDown")
    expect(mark).not_to_have_class("lit")
    page.get_by_role("button", name="Reads the ground").click()
    page.locator(".brief", has_text="How far off could it be?").click()
    tie = page.get_by_label("Tied to")
    tie.select_option(label="Credits sources")
    expect(page.get_by_role("button", name="Credits sources")).to_have_attribute(
        "aria-expanded", "true"
    )
    field = page.locator("[data-passage-open] textarea")
    field.fill("How far off?")
    assert violations(page) == []
    page.get_by_role("button", name="Close").click()
    expect(page.locator(".passages li")).to_contain_text("How far off?")
    page.locator(".brief", has_text="How far off?").click()
    page.get_by_role("button", name="Delete").click()
    expect(text.locator("mark")).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(text.locator("mark")).to_have_count(1)
    saved(page)
    page.reload()
    expect(text.locator("mark")).to_have_text("agrees from both ends")
    assert ("agrees from both ends", "How far off?") in passages_of(page, GORAN)


def test_every_kind_of_passage_by_keys_alone(demo_server: Server, open_page: Open) -> None:
    """A caret in the text; box and arrow from the middle of the page; the bank in a passage."""
    page = open_page(demo_server, f"{ROUTE}/{GORAN}")
    expect(page.locator("article.sheet")).to_be_visible()
    page.keyboard.press("t")
    expect(page.get_by_role("textbox", name="The work.")).to_be_focused()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    for _ in range(3):
        page.keyboard.press("Control+Shift+ArrowRight")
    page.keyboard.type("zzz")
    page.keyboard.press("c")
    remark(page, "Name the slip.")
    expect(page.locator("[data-current=true] [role=radio]").first).to_be_visible()
    assert passages_of(page, GORAN)[0] == ("Leg one leaves", "Name the slip.")
    assert "zzz" not in page.locator("article.sheet").inner_text()

    # Digits choose while the caret is in the work.
    page.keyboard.press("t")
    page.keyboard.press("3")
    expect(page.locator("[data-current=true] [aria-checked=true]")).to_contain_text("Arrived")

    page.goto(f"{ROUTE}/{MAI}")
    expect(page.locator("[data-shape]")).to_have_count(1)
    page.keyboard.press("x")
    box = page.locator("[data-shape]:focus")
    for key in ("ArrowUp", "ArrowUp", "Shift+ArrowRight", "Shift+ArrowDown"):
        page.keyboard.press(key)
    expect(box).to_have_count(1)
    page.keyboard.press("Enter")
    remark(page, "What is this hill?")
    page.keyboard.press("v")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(page.locator("[data-passage-open] textarea")).to_be_focused()
    page.keyboard.press("Control+b")
    offered = page.get_by_role("group", name="Remark bank").get_by_role("listitem").first
    expect(offered).to_be_visible()
    page.keyboard.press("1")
    field = page.locator("[data-passage-open] textarea")
    expect(field).to_be_focused()
    expect(field).not_to_have_value("")
    page.keyboard.press("Escape")
    saved(page)
    kinds = [what for what, _ in passages_of(page, MAI)]
    assert sorted(kinds) == ["arrow", "box", "box", "down to the road"]
    # Taken back, step by step.
    page.keyboard.press("Control+z")
    expect(page.locator("[data-shape]")).to_have_count(2)


def test_words_over_two_pages_of_a_pdf(demo_server: Server, open_page: Open) -> None:
    """In a PDF passages know their pages and rectangles, in points."""
    page = open_page(demo_server, f"{ROUTE}/{MAI}")
    layers = page.locator(".text-layer")
    expect(layers.nth(1).locator("mark")).to_have_text("down to the road")
    page.evaluate(
        """() => {
          const [first, second] = document.querySelectorAll('.text-layer')
          const range = document.createRange()
          range.setStart(first.querySelectorAll('span')[1].firstChild, 7)
          range.setEnd(second.querySelector('span').firstChild, 5)
          getSelection().removeAllRanges()
          getSelection().addRange(range)
        }"""
    )
    page.keyboard.press("c")
    remark(page, "The legs do not meet.")
    (found,) = [one for one in work_of(page, MAI)["passages"] if "meet" in one["text"]]
    assert found["place"]["quote"]["exact"] == ("slipway to stile, 044 magnetic, 25 minutes\nLeg 2")
    assert [piece["page"] for piece in found["place"]["pieces"]] == [1, 2]
    (rect,) = found["place"]["pieces"][0]["rects"]
    assert 90 < rect["x"] < 130
    assert 90 < rect["y"] < 112
    assert 8 < rect["height"] < 20
    page.reload()
    expect(layers.first.locator("mark")).to_have_text("slipway to stile, 044 magnetic, 25 minutes")
    expect(layers.nth(1).locator("mark").first).to_have_text("Leg 2")


def test_a_shape_is_drawn_and_moved_by_the_pointer_also_when_the_picture_is_turned(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, f"{ROUTE}/{GORAN}")
    page.get_by_role("tab", name="sketch 2.jpg").click()
    page.get_by_role("button", name="Rotate").click()
    layer = page.locator("svg.layer")
    expect(layer).to_be_visible()
    page.get_by_role("button", name="Box X").click()
    there = layer.bounding_box()
    assert there is not None
    mouse = page.mouse
    at_x, at_y = there["x"] + 40, there["y"] + 60
    mouse.move(at_x, at_y)
    mouse.down()
    mouse.move(at_x + 90, at_y + 50, steps=3)
    mouse.up()
    remark(page, "Here it turns back.")
    drawn = page.locator("[data-shape] rect").bounding_box()
    assert drawn is not None
    assert abs(drawn["x"] - at_x) < 4
    assert abs(drawn["width"] - 90) < 6
    page.locator(".brief", has_text="Here it turns back.").click()
    mouse.move(at_x + 90, at_y + 20)
    mouse.down()
    mouse.move(at_x + 120, at_y + 20, steps=3)
    mouse.up()
    expect(page.locator("[data-passage-open] textarea")).to_be_visible()
    page.get_by_role("button", name="Close").click()
    saved(page)
    moved = page.locator("[data-shape] rect").bounding_box()
    assert moved is not None
    assert abs(moved["x"] - at_x - 30) < 5


HARD = (
    "العربية: خريطة المدينة القديمة ثم الميناء\n"
    "E\u0301le\u0300ve \U0001f469\u200d\U0001f52c\U0001f5fa sees 50% of it <b>here</b> & there\n"
)


@pytest.mark.parametrize(
    "words",
    [
        "المدينة القديمة",
        "\U0001f469\u200d\U0001f52c\U0001f5fa sees",
        "<b>here</b>",
        # What stands before it begins within an emoji.
        "here</b> &",
    ],
)
def test_hard_words_are_found_again(demo_server: Server, open_page: Open, words: str) -> None:
    """Right to left, emoji of several characters, accents of their own, markup as text."""
    page = open_page(demo_server)
    page.request.put(f"/api/tasks/8/students/{FARIDA}/work", form={"text": HARD * 3}, headers=ME)
    page.goto(f"{ROUTE}/{FARIDA}")
    text = page.locator("article.sheet")
    select(page, text, words)
    page.keyboard.press("c")
    remark(page, "Good <script>alert(1)</script>")
    page.reload()
    expect(text.locator("mark")).to_have_text(words)
    (found,) = work_of(page, FARIDA)["passages"]
    span = found["place"]["span"]
    assert (HARD * 3)[span["start"] : span["end"]] == words


def test_words_over_the_cells_of_a_table(demo_server: Server, open_page: Open) -> None:
    """In a document words do not run into each other from block to block."""
    page = open_page(demo_server)
    rows = "".join(
        f"<w:tr>{''.join(f'<w:tc><w:p><w:r><w:t>{one}</w:t></w:r></w:p></w:tc>' for one in row)}"
        "</w:tr>"
        for row in (("Leg", "Bearing"), ("One", "044"))
    )
    content = docx("Two legs", f"<w:tbl>{rows}</w:tbl>")
    key = {"key": "a-document-with-a-table", "name": "legs.docx", "size": len(content)}
    upload = page.request.post("/api/uploads", data=key, headers=ME).json()["id"]
    head = {**ME, "content-type": "application/octet-stream"}
    page.request.put(f"/api/uploads/{upload}/bytes?at=0", data=content, headers=head)
    files = f"/api/tasks/8/students/{FARIDA}/work/files"
    assert page.request.post(files, data={"upload_id": upload}, headers=ME).ok
    page.goto(f"{ROUTE}/{FARIDA}")
    page.get_by_role("tab", name="legs.docx").click()
    document = page.locator("article.document")
    select(page, document, "BearingOne")
    page.keyboard.press("c")
    remark(page, "From where?")
    page.reload()
    page.get_by_role("tab", name="legs.docx").click()
    expect(document.locator("mark")).to_have_text(["Bearing", "One"])
    assert ("Bearing\nOne", "From where?") in passages_of(page, FARIDA)


def test_the_same_passage_from_two_tabs_is_told_and_both_are_kept(
    demo_server: Server, open_page: Open
) -> None:
    first = open_page(demo_server, f"{ROUTE}/{MAI}")
    second = first.context.new_page()
    second.goto(f"{ROUTE}/{MAI}")
    for page, words in ((first, "From the first tab"), (second, "From the second tab")):
        page.get_by_role("button", name="Plots each leg").click()
        page.locator(".brief", has_text="The bend is missing").click()
        page.locator("[data-passage-open] textarea").fill(words)
        page.get_by_role("button", name="Close").click()
        if page is first:
            saved(page)
    told = second.get_by_role("alert")
    expect(told).to_contain_text("You wrote “From the second tab”; there now: “From the first tab”")
    second.get_by_role("button", name="Use mine").click()
    expect(told).to_have_count(0)
    saved(second)
    assert ("box", "From the second tab") in passages_of(second, MAI)


def test_work_that_was_replaced_is_kept_with_its_remarks(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, f"{ROUTE}/{GORAN}")
    select(page, page.locator("article.sheet"), "agrees from both ends")
    page.keyboard.press("c")
    remark(page, "How far off?")
    page.request.put(f"/api/tasks/8/students/{GORAN}/work", form={"text": "A new card"}, headers=ME)
    page.reload()
    expect(page.locator("article.sheet")).to_have_text("A new card")
    page.get_by_role("tab").last.click()
    expect(page.get_by_text("This was replaced. It is kept for the remarks in it.")).to_be_visible()
    expect(page.locator("article.sheet mark")).to_have_text("agrees from both ends")


def test_a_student_reads_the_remarks_at_their_place_on_a_phone(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    """Each number leads from the work to the remark and back; a screen reader hears both."""
    teacher = open_page(demo_server, f"{ROUTE}/{FARIDA}")
    text = teacher.locator("article.sheet")
    expect(text).to_be_visible()
    first_line = text.inner_text().splitlines()[0]
    select(teacher, text, first_line)
    teacher.keyboard.press("c")
    remark(teacher, "A title that says it.")
    for key in ("3", "ArrowDown", "3"):
        teacher.keyboard.press(key)
    with teacher.expect_response(lambda answer: answer.url.endswith("/finish")):
        teacher.keyboard.press("Control+Enter")
    back = {"student_ids": [FARIDA], "total_shown": True}
    assert teacher.request.post("/api/tasks/8/handing-back", data=back, headers=ME).ok
    page = open_page(demo_server, width=390)
    page.request.post("/api/session/demo", data={"person_id": FARIDA})
    page.goto("/my/tasks/8/result")
    remarks = page.get_by_role("list", name="Remarks in the work")
    own = remarks.get_by_role("listitem").filter(has_text="A title that says it.")
    expect(own).to_be_visible()
    number = page.locator("article.sheet a.passage-number").first
    expect(number).to_have_accessible_name("Remark 1: A title that says it.")
    own.get_by_role("link").click()
    expect(number).to_be_focused()
    page.keyboard.press("Enter")
    expect(own).to_be_focused()
    expect(page.locator("article.sheet")).to_match_aria_snapshot(
        f"- mark: {first_line}\n- 'link \"Remark 1: A title that says it.\"'"
    )
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
