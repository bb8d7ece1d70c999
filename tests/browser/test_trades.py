"""Springs and threads, made in the browser from empty parts and measured."""

import io
import math

import pypdf
import pytest
from playwright.sync_api import Page, expect

from tests.browser.editor import Editor
from tests.browser.test_sweeping import measured


def test_a_spring_is_made_in_one_step_loaded_on_its_graph_and_its_sheet_saved(editor: Editor, page: Page):
    """Wire 2, outside 20, 42 long: rate G d⁴/(8 D³ n) with D 18; the load's mark moves on the graph, and the spring is drawn under it."""
    editor.new_part()
    page.get_by_role("button", name="Spring", exact=True).click()
    editor.wait_built()
    editor.field("Diameter", "20")
    editor.wait_built()
    report, (body,) = measured(editor, "sprung1")
    rate = 81500 * 16 / (8 * 18**3 * 6)
    assert report.data["spring"]["rate"] == pytest.approx(rate)
    assert body.body.valid()
    mark = page.get_by_role("slider", name="Load 1 on the graph")
    mark.focus()
    for _ in range(2):
        mark.press("Shift+ArrowLeft")
        editor.wait_built()
    (load,) = measured(editor, "sprung1")[0].data["spring"]["loads"]
    assert load["length"] == pytest.approx(30)
    assert load["force"] == pytest.approx(rate * 12, rel=1e-6)
    page.get_by_role("combobox", name="Shown", exact=True).click()
    page.get_by_role("option", name="Shown under load 1").click()
    editor.wait_built()
    assert measured(editor, "sprung1")[1][0].mesh.points[:, 2].max() == pytest.approx(30, abs=1e-3)
    page.get_by_role("button", name="Spring sheet").click()
    sheet = page.get_by_role("dialog")
    expect(sheet).to_contain_text("EN 13906-1")
    with page.expect_download() as saved:
        sheet.get_by_role("link", name="PDF").click()
    text = pypdf.PdfReader(io.BytesIO(saved.value.path().read_bytes())).pages[0].extract_text()
    assert "Spring sheet: Spring" in text
    assert f"{rate:.5g}" in text
    editor.key("Escape")
    page.get_by_role("radiogroup", name="What it does").get_by_text("Turned").click()
    editor.wait_built()
    assert [p["kind"] for p in measured(editor, "sprung1")[0].data["pieces"]] == ["line", "wound", "line"]
    editor.key("Control+z")
    editor.wait_built()
    assert measured(editor, "sprung1")[0].data["spring"]["duty"] == "compression"


def test_a_thread_is_cut_on_a_rod_drawn_only_and_told_in_its_sheet(editor: Editor, page: Page):
    editor.new_part()
    page.get_by_role("button", name="Thread in a rod").click()
    editor.wait_built()
    report, (rod,) = measured(editor, "threaded1")
    assert report.data["thread"]["title"] == "M10 × 1.5 - 6g"
    assert rod.body.valid()
    assert math.pi * 25 * 30 - rod.body.volume() == pytest.approx(report.data["thread"]["took"], rel=1e-5)
    page.get_by_role("button", name="Thread sheet").click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("row", name="pitch d2")).to_contain_text("8.994")
    expect(sheet).to_contain_text("57.99")
    editor.key("Escape")
    editor.field("Length", "40")
    expect(editor.messages()).to_contain_text("the face at 30 mm")
    editor.key("Control+z")
    editor.wait_built()
    page.get_by_role("radiogroup", name="Real or drawn only").get_by_text("Drawn only").click()
    editor.wait_built()
    report, (rod,) = measured(editor, "threaded1")
    assert rod.body.volume() == pytest.approx(math.pi * 25 * 30, rel=1e-6)
    assert len(report.data["thread"]["lines"]) == 2
