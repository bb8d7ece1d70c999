"""What a person does with hand and keys at the screen."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Page, expect

from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from
from tests.support.editor import Editor


def begin(editor: Editor, page: Page, view: str = "front") -> None:
    editor.new_part()
    page.get_by_role("button", name=f"Draw a path seen from the {view}").click()
    expect(editor.canvas).to_be_visible()
    editor.settle()


def locker(editor: Editor, page: Page, title: str) -> None:
    editor.key("a")
    page.get_by_label("Search the locker").fill(title)
    page.get_by_role("dialog").get_by_role("button", name=title).first.click()  # the slip may offer it too
    expect(page.get_by_label("Search the locker")).to_have_count(0)
    editor.settle()


def sketch_on(editor: Editor, page: Page, view: str) -> None:
    open_sketch(editor, page, f"Sketch seen from the {view}")


def open_sketch(editor: Editor, page: Page, title: str) -> None:
    """A new sketch by its name in the locker, solved and ready to be drawn in."""
    locker(editor, page, title)
    expect(page.get_by_test_id("freedom")).to_be_visible()
    expect(page.get_by_role("button", name="Line", exact=True)).to_have_attribute("aria-pressed", "true")


def draw(editor: Editor, tool: str, *points: tuple[float, float], finish: str = "Escape") -> None:
    editor.key(tool)
    for x, y in points:
        editor.click(x, y)
    editor.key(finish)
    editor.settle()


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label, exact=True).click()
    page.get_by_role("option", name=option, exact=True).click()


BUILT = Memory()  # of the steps that stay as they were from one look to the next


def measured(editor: Editor, name: str = "sweep1") -> tuple[Any, Any]:
    """The step's report and the bodies, once the screen shows the part built: the solids that the server has kept, and
    what it keeps none of built here.
    """
    editor.wait_built()
    result = build(part_from(editor.document()), BUILT, editor.kept)
    report = result.reports[name]
    assert report.state == "fresh", [m.text for m in report.messages]
    return report, result.bodies


def bulb(editor: Editor, page: Page) -> None:
    """A straight path, two side curves, an ellipse that reaches both."""
    begin(editor, page, "front")
    draw(editor, "l", (-50, 0), (50, 0))
    editor.done()
    sketch_on(editor, page, "front")
    draw(editor, "s", (-58, 12), (0, 30), (58, 12), finish="Enter")
    editor.done()
    sketch_on(editor, page, "top")
    draw(editor, "s", (-58, 18), (0, 42), (58, 18), finish="Enter")
    editor.done()
    locker(editor, page, "Plane square to a path")
    choose(page, "Path", "Path")
    editor.wait_built()
    open_sketch(editor, page, "Profile on the plane")
    draw(editor, "Shift+E", (0, 0), (20, 0), (0, 14))
    editor.done()
    editor.key("w")
    choose(page, "Path", "Path")
    page.get_by_role("button", name="Steer it by a rail").click()
    editor.wait_built()
    page.get_by_role("button", name="Another rail").click()
    editor.wait_built()
