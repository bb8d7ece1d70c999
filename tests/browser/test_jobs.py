"""Jobs that go through several kinds of step, each whole: in the browser from an empty part, and measured by an
independent build.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect
from scipy.interpolate import CubicSpline

from tests.support.editor import Editor
from tests.support.hands import begin, bulb, choose, draw, locker, measured, open_sketch

FRONT, TOP, RIGHT, LEFT = "1", "2", "3", "4"


def look(editor: Editor, view: str) -> None:
    editor.key(view)
    editor.settle()


def click_in_stage(editor: Editor, page: Page, right: float, up: float, hover: str) -> None:
    x, y, _ = editor.point_at(right, up, hover)
    page.mouse.click(x, y)
    editor.settle()


def test_a_bulb_is_finished_with_rounding_neck_walls_and_a_badge_put_in_earlier(editor: Editor, page: Page):
    """Job 21."""
    bulb(editor, page)
    plain, _ = measured(editor)
    look(editor, FRONT)
    editor.key("Shift+R")
    expect(page.get_by_role("button", name="Click edges in the stage; here to end")).to_be_visible()
    click_in_stage(editor, page, -50, 6, "take Sweep · edge of")
    expect(page.get_by_label("Take edge 1 away")).to_be_visible()
    page.get_by_role("button", name="Click edges in the stage; here to end").click()
    page.get_by_label("How edges are shaped").get_by_text("Radii along").click()
    editor.field("Value of row 1", "4")
    page.get_by_role("button", name="Add a row").click()
    editor.field("Station of row 2", "50%")
    editor.field("Value of row 2", "2")
    editor.wait_built()
    expect(editor.messages()).to_contain_text("The edges close on themselves")
    page.get_by_role("button", name="End as it begins").click()
    editor.wait_built()
    expect(editor.messages()).to_have_count(0)
    (how,) = [s["how"] for s in editor.document()["steps"] if s["kind"] == "rounding"]
    assert [p["value"] for p in how["points"]] == [4, 2, 4]
    assert editor.number("Volume") * 1000 < plain.data["numbers"]["volume"]
    look(editor, RIGHT)
    click_in_stage(editor, page, 0, 0, "Sweep · end")
    editor.key("Shift+K")
    expect(editor.canvas).to_be_visible()
    draw(editor, "c", (0, 0), (9, 0))
    editor.done()
    editor.key("x")
    editor.field("Forward", "14")
    editor.field("Behind", "3")
    page.get_by_label("ResultMode").get_by_text("Add").click()
    editor.wait_built()
    editor.key("Shift+H")
    editor.field("Wall", "1.5")
    editor.wait_built()
    page.get_by_role("button", name="Open a face").click()
    look(editor, RIGHT)
    click_in_stage(editor, page, 0, 0, "Extrude · end")
    expect(page.get_by_label("Close face 1")).to_be_visible()
    page.get_by_role("button", name="Another wall for a face").click()
    look(editor, LEFT)
    click_in_stage(editor, page, 0, 0, "Sweep · start")
    editor.field("Sweep · start face", "3")
    editor.wait_built()
    without = editor.number("Volume") * 1000
    assert editor.number("Thinnest wall") == pytest.approx(1.5, abs=0.01)
    assert editor.number("Thickest wall") == pytest.approx(3, abs=0.01)
    sinker = page.get_by_role("slider", name="Sinker")
    sinker.focus()
    editor.key("ArrowUp")
    editor.wait_built()
    locker(editor, page, "Plane beside another")
    editor.field("Distance", "50")
    choose(page, "Beside which plane", "XY, seen from the top")
    editor.wait_built()
    editor.key("o")
    expect(editor.canvas).to_be_visible()
    draw(editor, "c", (0, 0), (8, 0))
    editor.done()
    editor.key("Shift+B")
    editor.field("Height", "0.8")
    editor.wait_built()
    badge = editor.number("Its volume") * 1000
    sinker.focus()
    editor.key("ArrowDown")
    editor.wait_built()
    kinds = [s["kind"] for s in editor.document()["steps"]][-4:]
    assert kinds == ["datum", "sketch", "embossed", "hollow"]
    report, (body,) = measured(editor, "hollow1")
    assert body.body.valid()
    assert badge == pytest.approx(0.8 * math.pi * 64, rel=0.1)  # on a side that curves away
    assert report.data["result"]["volume"] == pytest.approx(without + badge, rel=1e-5)  # nothing of it shows inside
    assert report.data["walls"]["least"] == pytest.approx(1.5, abs=0.01)
    assert report.data["walls"]["most"] == pytest.approx(3, abs=0.01)


def test_a_spring_on_a_curved_axis_is_made_the_long_way(editor: Editor, page: Page):
    """Job 17 as two surfaces and their crossing: a line that turns about the axis, and a tapered tube round it."""
    begin(editor, page, "front")
    draw(editor, "s", (-60, 0), (-20, 14), (30, 10), (60, 40), finish="Enter")
    editor.done()
    editor.key("q")
    editor.field("Diameter", "28")
    page.get_by_role("button", name="As a surface…").click()
    page.get_by_role("switch", name="As a surface").click()
    page.get_by_role("button", name="Change it along the path…").click()
    choose(page, "Both ways", "Evenly to a ratio")
    editor.field("Times at the end", "0.5")
    locker(editor, page, "Plane square to a path")
    choose(page, "Path", "Path")
    editor.wait_built()
    open_sketch(editor, page, "Profile on the plane")
    draw(editor, "l", (0, 0), (0, 20))
    editor.done()
    editor.key("w")
    expect(page.get_by_role("switch", name="As a surface")).to_be_checked()  # an open outline can be no solid
    page.get_by_role("button", name="Twist…").click()
    editor.field("Twist over the length", "6")
    editor.wait_built()
    editor.key("v")
    report, _ = measured(editor, "crossing1")
    lanes = measured(editor)[0].data["lanes"]
    assert_on_taper(np.array(report.data["path"]["points"])[::40], smooth(lanes), 14, 7)
    editor.key("q")
    editor.field("Diameter", "2")
    report_of_wire, bodies = measured(editor, "sweep3")
    wire = bodies[-1].body
    assert wire.valid()
    assert wire.volume() == pytest.approx(math.pi * report_of_wire.data["length"], rel=1e-5)
    assert report_of_wire.data["length"] > 6 * 2 * math.pi * 7  # six coils, the smallest at the end


def smooth(lanes: Any) -> CubicSpline:
    """The path by station, of what the strip is told of a sweep."""
    stations, first = np.unique(lanes["station"], return_index=True)
    return CubicSpline(stations, np.array(lanes["point"])[first])


def assert_on_taper(points: np.ndarray, axis: CubicSpline, start: float, end: float) -> None:
    """Each of the points (n, 3) is as far from the axis as a tube that tapers evenly along it is wide there."""
    stations = np.linspace(axis.x[0], axis.x[-1], 8001)
    away = np.linalg.norm(points[:, None] - axis(stations)[None], axis=2)
    share = stations[away.argmin(axis=1)] / stations[-1]
    assert away.min(axis=1) == pytest.approx(start + (end - start) * share, abs=2e-3)


def round_curve(editor: Editor, page: Page, along_x: str, along_y: str) -> None:
    """A quarter of an ellipse about the origin, seen from the front, up from where it is farthest to the left."""
    editor.key("Shift+A")
    editor.wait_built()
    page.get_by_text("Round", exact=True).click()
    choose(page, "Plane", "XZ, seen from the front")
    for label, value in (
        ("Radius along x", along_x),
        ("Radius along y", along_y),
        ("Start angle", "180"),
        ("Angle round", "-90"),
    ):
        editor.field(label, value)
    editor.wait_built()


def test_a_shoe_goes_from_a_slot_to_a_circle_along_a_bend_between_rails(editor: Editor, page: Page):
    """Job 18: two sections on parallel planes, then a centreline, then a rail on each side; and beside it a sweep with
    one rail.
    """
    editor.new_part()
    for along_x, along_y in (("80", "80"), ("120", "99"), ("40", "61")):
        round_curve(editor, page, along_x, along_y)
    centreline, outer, inner = (s["name"] for s in editor.document()["steps"])
    locker(editor, page, "Plane square to a path")
    choose(page, "Path", centreline)
    page.get_by_role("radiogroup", name="Place").get_by_text("End", exact=True).click()
    editor.wait_built()
    editor.key("Shift+L")
    editor.wait_built()
    first, second = (page.get_by_role("group", name=f"Section {n}") for n in (1, 2))
    kind(page, first, 1, "Slot")
    first.get_by_label("Plane of section 1").click()
    page.get_by_role("option", name="XY, seen from the top", exact=True).click()
    for label, value in (("Width", "80"), ("Height", "24")):
        fill(first, label, value)
    first.get_by_role("button", name="Beside the plane's origin, turned…").click()
    fill(first, "Aside", "-80")
    kind(page, second, 2, "Round")
    second.get_by_label("Plane of section 2").click()
    page.get_by_role("option", name="Plane square to path", exact=True).click()
    fill(second, "Diameter", "38")
    choose(page, "Centreline", centreline)
    plain, _ = measured(editor, "loft1")
    page.get_by_role("button", name="Steer it by a rail").click()
    choose(page, "Rail 1", outer)
    page.get_by_role("button", name="Another rail").click()
    choose(page, "Rail 2", inner)
    report, (body,) = measured(editor, "loft1")
    assert body.body.valid()
    assert report.data["numbers"]["ends"] == pytest.approx([56 * 24 + math.pi * 144, math.pi * 361], rel=1e-6)
    for line, (a, b) in zip(report.data["lines"][-2:], ((120, 99), (40, 61)), strict=True):
        x, y, z = np.array(line).T
        assert np.abs(y).max() < 1e-6
        assert (x / a) ** 2 + (z / b) ** 2 == pytest.approx(np.ones(len(x)), abs=1e-6)
    assert report.data["numbers"]["volume"] != pytest.approx(plain.data["numbers"]["volume"], rel=1e-3)
    beside_it(editor, page, outer)


def beside_it(editor: Editor, page: Page, outer: str) -> None:
    """The same bend as a sweep of the slot with one rail: as far from its centreline as the rail is, all along."""
    editor.select("curve1")
    editor.key("q")
    choose(page, "Where the profile comes from", "Slot")
    editor.field("Width", "80")
    editor.field("Height", "24")
    page.get_by_role("button", name="Steer it by a rail").click()
    choose(page, "Rail 1", outer)
    report, bodies = measured(editor)
    assert bodies[-1].body.valid()
    lanes = report.data["lanes"]
    assert lanes["map"][0][0] == pytest.approx(1, abs=1e-6)
    assert lanes["map"][-1][0] == pytest.approx(19 / 40, abs=1e-6)


def kind(page: Page, section: Locator, number: int, name: str) -> None:
    section.get_by_label(f"What section {number} is").click()
    page.get_by_role("option", name=name, exact=True).click()


def fill(section: Locator, label: str, value: str) -> None:
    box = section.get_by_label(label, exact=True)
    box.fill(value)
    box.press("Enter")
