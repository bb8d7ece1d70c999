"""A newcomer's way from an empty part to files on disk, with what is shown checked against the core."""

from __future__ import annotations

import json
import math
import struct
from concurrent.futures import ThreadPoolExecutor

import pytest
from playwright.sync_api import Page, expect

from leadline.recipe.build import build
from leadline.recipe.part_file import part_from
from leadline.server.jobs import work
from leadline.server.settings import Settings
from tests.browser.conftest import LiveServer
from tests.support.editor import Editor


def draw_bent_path(editor: Editor) -> None:
    """A line from the origin, an arc tangent to it, a line upward; what holds them is proposed while they are drawn."""
    page = editor.page
    page.get_by_role("button", name="Draw a path seen from the front").click()
    expect(editor.canvas).to_be_visible()
    editor.click(0, 0)
    editor.click(60, 1.2)
    editor.key("Escape")
    editor.key("a")
    editor.click(60, 0)
    editor.click(90, 30)
    editor.click(81.5, 8.5)
    editor.key("Escape")
    editor.key("l")
    editor.click(90, 30)
    editor.click(89.5, 75)
    editor.key("Escape")
    editor.key("v")


def size_path(editor: Editor) -> None:
    editor.key("d")
    editor.click(30, 0)
    editor.click(30, -14)
    editor.dimension("120")
    editor.key("0")
    editor.settle()
    sketch = editor.document()["steps"][0]["sketch"]
    at = {p["id"]: (p["x"], p["y"]) for p in sketch["points"]}
    arc = next(e for e in sketch["entities"] if e["kind"] == "arc")
    (cx, cy), (ex, ey) = at[arc["center"]], at[arc["start"]]
    radius = math.hypot(ex - cx, ey - cy)
    editor.click(cx + radius * math.sin(math.pi / 4), cy - radius * math.cos(math.pi / 4))
    editor.click(cx - 8, cy + 6)
    editor.dimension("40")
    last = next(e for e in reversed(sketch["entities"]) if e["kind"] == "line")
    now = {p["id"]: (p["x"], p["y"]) for p in editor.document()["steps"][0]["sketch"]["points"]}
    (x0, y0), (x1, y1) = now[last["start"]], now[last["end"]]
    editor.click((x0 + x1) / 2, (y0 + y1) / 2)
    editor.click(x0 + 20, (y0 + y1) / 2)
    editor.dimension("3 in")


def numbers_of(document: dict) -> dict:
    result = build(part_from(document))
    step = next(s["id"] for s in document["steps"] if s["kind"] == "sweep")
    report = result.reports[step]
    assert report.state == "fresh", [(m.text, r.id) for r in result.reports.values() for m in r.messages]
    return report.data["numbers"]


def test_from_an_empty_part_to_a_tube_and_its_files(editor: Editor, page: Page, tmp_path):
    editor.new_part()
    draw_bent_path(editor)
    expect(page.get_by_test_id("freedom")).to_contain_text("3 still free")
    size_path(editor)
    expect(page.get_by_test_id("freedom")).to_contain_text("Settled")
    editor.done()

    editor.key("p")
    editor.wait_built()
    expect(page.get_by_role("heading", name="Plane square to path")).to_be_visible()
    editor.key("o")
    expect(editor.canvas).to_be_visible()
    editor.settle()
    editor.key("g")
    editor.click(0, 0)
    editor.click(10, 0)
    editor.click(8, 0)
    tags = page.locator("[data-constraint=on_path]")
    expect(tags).to_have_count(1)
    editor.done()

    editor.key("w")
    editor.wait_built()
    expected = numbers_of(editor.document())
    length = 120 + 40 * math.pi / 2 + 76.2
    assert expected["length"] == pytest.approx(length, rel=1e-9)
    assert editor.number("Length") == pytest.approx(length, abs=0.001)
    assert editor.number("Volume") == pytest.approx(expected["volume"] / 1000, rel=1e-5)
    assert editor.number("Tightest bend") == pytest.approx(40)
    expect(page.get_by_role("row", name="Solid")).to_contain_text("valid")

    read_the_strip(editor, page)
    twist_and_wall(editor, page)
    save_files(editor, page, tmp_path)


def read_the_strip(editor: Editor, page: Page) -> None:
    strip = page.get_by_role("slider", name="Station")
    strip.focus()
    editor.key("Home")
    expect(page.get_by_test_id("station-readout")).to_contain_text("bend straight")
    for _ in range(6):
        editor.key("Shift+ArrowRight")
    expect(page.get_by_test_id("station-readout")).to_contain_text("bend 40 mm")
    expect(page.get_by_test_id("lens-size")).to_have_text("Ø20 × 2 mm")


def twist_and_wall(editor: Editor, page: Page) -> None:
    """A preview while typing, the exact numbers after; undone step by step."""
    page.get_by_role("button", name="Twist…").click()
    page.get_by_label("Twist over the length").fill("2")
    expect(page.get_by_test_id("station-readout")).to_contain_text("twist")
    page.get_by_label("Twist over the length").press("Enter")
    editor.wait_built()
    page.get_by_role("slider", name="Station").focus()
    editor.key("End")
    expect(page.get_by_test_id("station-readout")).to_contain_text("720°")
    page.get_by_role("button", name="Undo").click()
    editor.wait_built()
    expect(page.get_by_test_id("station-readout")).to_contain_text("twist 0°")


def save_files(editor: Editor, page: Page, folder) -> None:
    page.get_by_role("textbox", name="Name of the part").fill("Test riser")
    page.get_by_role("textbox", name="Name of the part").press("Enter")
    editor.wait_built()
    for item, magic in (("STEP", b"ISO-10303-21"), ("glTF", b"glTF"), ("STL", None), ("Part file", b"{")):
        page.get_by_role("button", name="Save as").click()
        with page.expect_download() as waiting:
            page.get_by_role("menuitem", name=item).click()
        file = folder / waiting.value.suggested_filename
        waiting.value.save_as(file)
        data = file.read_bytes()
        assert file.stem == "test-riser"
        if magic is None:
            assert len(data) == 84 + 50 * struct.unpack("<I", data[80:84])[0]
        else:
            assert data.startswith(magic)
    before = editor.document()
    page.goto(editor.url)
    with page.expect_file_chooser() as choosing:
        page.get_by_role("button", name="Open part file").click()
    choosing.value.set_files(folder / "test-riser.json")
    page.wait_for_url("**/part/**")
    editor.wait_built()
    assert editor.document() == before == json.loads((folder / "test-riser.json").read_text())


def test_a_spline_and_a_round_section_in_one_go(editor: Editor, page: Page):
    editor.new_part()
    page.get_by_role("button", name="Draw a path seen from the top").click()
    expect(editor.canvas).to_be_visible()
    editor.key("s")
    for x, y in ((-80, 0), (-30, 25), (30, 25), (80, 0)):
        editor.click(x, y)
    editor.key("Enter")
    editor.settle()
    editor.done()
    editor.select("sketch1")
    editor.key("r")
    editor.wait_built()
    document = editor.document()
    assert [s["kind"] for s in document["steps"]] == ["sketch", "plane", "sketch", "sweep"]
    expected = numbers_of(document)
    assert editor.number("Volume") == pytest.approx(expected["volume"] / 1000, rel=1e-5)
    assert expected["volume"] == pytest.approx(math.pi * 100 * expected["length"], rel=1e-6)


def test_demo_parts_are_listed_with_pictures_and_all_survives_a_restart(editor: Editor, page: Page, live: LiveServer):
    with ThreadPoolExecutor(1) as own:  # beside the browser's own loop: the jobs that the server has put in
        own.submit(work, Settings(live.env["LEADLINE_DB_URL"], builders=1), until_done=True).result()
    editor.list_parts()
    shelf = page.get_by_role("region", name="Demo parts")
    for name in ("Handle bar", "Kick rail", "Pipe clip", "Frost bar"):
        expect(shelf.get_by_alt_text(f"{name}, drawn", exact=True)).to_be_visible()
    shelf.get_by_label("Open Kick rail", exact=True).click()
    editor.wait_built()
    editor.select("sweep")
    assert editor.number("Length") == pytest.approx(780 + 70 * math.pi, abs=0.001)
    live.stop()
    live.start()
    page.reload()
    editor.wait_built()
    editor.select("sweep")
    assert editor.number("Length") == pytest.approx(780 + 70 * math.pi, abs=0.001)
