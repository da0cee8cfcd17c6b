"""Done again, and not counted: another attempt costs fewer presses; evidence is set aside."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import ME, Server

Open = Callable[..., Page]
ROUTE = "/classes/1/marking/8"
LEIF = 2


def marked_by_keys(page: Page) -> int:
    """Mark what is left at the desk, each criterion met; gives how many presses it took."""
    presses = 0
    todo = page.locator(".criterion .state", has_text="to do")
    while left := todo.count():
        page.keyboard.press("3")
        expect(todo).to_have_count(left - 1)
        presses += 1
        if left > 1:
            while not page.locator("[data-current=true] .state", has_text="to do").count():
                page.keyboard.press("ArrowDown")
                presses += 1
    page.keyboard.press("Control+Enter")
    return presses + 1


def test_another_attempt_for_all_below_mastery_costs_fewer_presses(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    page = open_page(demo_server, "/classes/1/marking/8/20")
    expect(page.get_by_role("radio").first).to_be_visible()
    first = marked_by_keys(page)
    page.goto("/classes/1/tasks/8")
    page.get_by_role("button", name="More to do with this task").click()
    page.get_by_role("menuitem", name="Another attempt").click()
    form = page.get_by_role("form", name="Another attempt")
    form.get_by_role("button", name="R1 (").click()
    expect(form).to_contain_text("For Leif Aasen")
    form.get_by_label("What to do").fill("Read the spacing once more.")
    assert violations(page) == []
    form.get_by_role("button", name="Open it for").click()
    expect(page.get_by_text("Another attempt is open for")).to_be_visible()
    row = page.get_by_role("row").filter(has=page.get_by_role("link", name="Leif Aasen"))
    expect(row).to_contain_text("another attempt is open")

    # At the desk it asks only for what was not met; what was is shown, and can be opened.
    page.goto(f"{ROUTE}/{LEIF}")
    expect(page.get_by_role("button", name="Reads the ground")).to_contain_text("On the way")
    page.get_by_role("navigation", name="Attempts").get_by_role("link", name="Attempt 2").click()
    carried = page.get_by_role("button", name="Plots each leg")
    expect(carried).to_contain_text("carried over Arrived")
    expect(page.locator("[data-current=true]")).to_contain_text("Reads the ground")
    second = marked_by_keys(page)
    assert second < first
    page.goto(f"{ROUTE}/{LEIF}/2")
    expect(page.get_by_text("Finished: this counts.")).to_be_visible()
    carried.click()
    expect(
        page.get_by_text("Met in attempt 1 and carried over: it stands as it was.")
    ).to_be_visible()
    assert violations(page) == []
    page.locator("[data-current=true]").get_by_role("radio", name="Arrived").click()
    expect(carried).not_to_contain_text("carried over")
    expect(page.locator(".foot .saved")).to_contain_text("Saved")

    # One that was opened by mistake is withdrawn.
    page.goto("/classes/1/tasks/8")
    other = page.get_by_role("row").filter(has=page.get_by_role("link", name="Juno Abara"))
    expect(other).to_contain_text("another attempt is open")
    other.get_by_role("button", name="More on Juno Abara").click()
    page.get_by_role("menuitem", name="Withdraw the attempt").click()
    expect(page.get_by_text("is withdrawn: nothing changed")).to_be_visible()
    expect(other).not_to_contain_text("another attempt is open")


def test_a_task_is_set_aside_for_the_class_and_counts_again(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    page = open_page(demo_server, "/classes/1/mastery")
    cell = page.locator("[role=gridcell]").first
    before = cell.get_attribute("aria-label") or ""
    cell.click()
    came_from = page.get_by_role("complementary").get_by_role("listitem")
    expect(came_from.first).to_be_visible()
    count = came_from.count()
    task = came_from.first.get_by_role("link")
    title = task.inner_text()

    # One piece, from the trail.
    came_from.first.get_by_role("button", name="Set aside …").click()
    page.get_by_role("button", name="Set it aside").click()
    expect(page.get_by_text("A reason is needed")).to_be_visible()
    page.get_by_label("Why does it not count?").fill("Worked with a neighbour")
    assert violations(page) == []
    page.get_by_role("button", name="Set it aside").click()
    expect(came_from.first).to_contain_text("set aside")
    expect(came_from.first).to_contain_text("Worked with a neighbour")
    expect(cell).not_to_have_accessible_name(before)
    expect(came_from).to_have_count(count)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(cell).to_have_accessible_name(before)

    # A task, for everybody.
    page.goto("/classes/1/tasks")
    page.get_by_role("link", name=title).first.click()
    page.get_by_label("Choose all who are shown").check()
    page.get_by_role("button", name="Set evidence aside").click()
    page.get_by_label("Why does it not count?").fill("The room was noisy")
    page.get_by_role("button", name="Set it aside for").click()
    expect(page.get_by_role("row").nth(1)).to_contain_text("set aside")
    expect(page.get_by_role("row").nth(1)).to_contain_text("The room was noisy")
    page.goto("/classes/1/mastery")
    expect(cell).not_to_have_accessible_name(before)
    page.go_back()
    page.get_by_label("Choose all who are shown").check()
    page.get_by_role("button", name="Count it again").click()
    expect(page.get_by_text("counts again")).to_be_visible()
    page.goto("/classes/1/mastery")
    expect(cell).to_have_accessible_name(before)


def test_attempts_stand_side_by_side_with_what_changed(
    demo_server: Server, open_page: Open, violations: Callable[[Page], list[str]]
) -> None:
    page = open_page(demo_server, f"{ROUTE}/{LEIF}")
    first = page.request.get(f"/api/tasks/8/students/{LEIF}/attempts/1").json()
    text = first["parts"][0]["text"]
    opened = {"student_ids": [LEIF], "words": "Once more"}
    assert page.request.post("/api/tasks/8/attempts", data=opened, headers=ME).ok
    anew = {"text": text.replace("steep", "gentle")}
    assert page.request.put(f"/api/tasks/8/students/{LEIF}/work", form=anew, headers=ME).ok
    page.reload()
    page.get_by_role("link", name="Side by side").click()
    table = page.get_by_role("region", name="Attempts side by side")
    row = table.get_by_role("row").filter(has_text="Plots each leg")
    expect(row).to_contain_text("carried over from 1")
    expect(table.get_by_role("row").filter(has_text="Reads the ground")).to_contain_text(
        "not marked"
    )
    expect(page.locator("del")).to_have_text(" removed: steep")
    expect(page.locator("ins")).to_have_text(" added: gentle")
    assert violations(page) == []
    # Texts that are too unlike to be compared in time are read side by side.
    page.request.put(
        f"/api/tasks/8/students/{LEIF}/work",
        form={"text": " ".join(str(number * 7919 % 10007) for number in range(9000))},
        headers=ME,
    )
    page.reload()
    expect(page.locator("article.sheet")).to_have_count(2)
    expect(page.locator("ins")).to_have_count(0)
