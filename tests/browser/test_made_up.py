"""A kind of step that lives in the tests' folder alone, at the screen: made, changed, undone, saved as a file."""

from __future__ import annotations

import math

import pytest
from playwright.sync_api import Page, expect

from tests.support.editor import Editor
from tests.support.hands import choose


def test_a_made_up_kind_is_added_shown_with_plain_cards_undone_and_exported(editor: Editor, page: Page):
    editor.new_part()
    editor.key("a")
    page.get_by_placeholder("Add a step, or find a command").fill("round peg")
    page.get_by_role("button", name="Peg A round peg on a plane.").click()
    editor.wait_built()
    expect(page.get_by_test_id("slip")).to_contain_text("A round peg on a plane.")
    expect(page.locator('[data-step="peg1"]')).to_contain_text("Ø10 mm, 25 mm")
    editor.field("Diameter", "12 + 4")
    page.get_by_label("Hollow").click()
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(math.pi * (64 - 6.4**2) * 25 / 1000, rel=1e-3)
    editor.key("Control+z")
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(math.pi * 64 * 25 / 1000, rel=1e-3)
    part_id = page.url.rsplit("/", 1)[1]
    step = page.request.get(f"{editor.url}/api/parts/{part_id}/export/step")
    assert step.ok
    assert b"ISO-10303-21" in step.body()[:40]
    page.reload()
    editor.wait_built()
    editor.select("peg1")
    expect(page.get_by_label("Diameter", exact=True)).to_have_value("12 + 4")
    choose(page, "Units", "in")
    editor.wait_built()
    assert editor.document()["steps"][0]["diameter"] == "(12 + 4) mm"
