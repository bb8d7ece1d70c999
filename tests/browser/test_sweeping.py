"""The jobs that end in a sweep, each done in the browser from an empty part and measured by an independent build."""

from __future__ import annotations

import math
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.support.editor import Editor
from tests.support.hands import begin, bulb, choose, draw, locker, measured, open_sketch, sketch_on
from tests.support.parts import step


def test_a_newcomers_sweep_turned_held_and_with_a_region_left_out(editor: Editor, page: Page):
    """Jobs 9, 10, 16: circle and square on a crossing plane at the middle of a spline, drawn first."""
    editor.new_part()
    sketch_on(editor, page, "right")
    draw(editor, "c", (0, 0), (14, 0))
    draw(editor, "b", (0, 0), (6, 6))
    editor.done()
    sketch_on(editor, page, "front")
    draw(editor, "s", (-70, -12), (0, 0), (70, 20), finish="Enter")
    editor.done()
    editor.key("w")
    report, (body,) = measured(editor)
    ring = math.pi * 14**2 - 144
    lean = math.sin(math.radians(report.data["lanes"]["tilt"][0]))
    assert body.body.volume() == pytest.approx(ring * report.data["length"] * lean, rel=2e-2)
    assert report.data["home"] == pytest.approx(report.data["length"] / 2, rel=0.1)  # the section stands in the middle
    choose(page, "Orientation", "Held parallel")
    held, (body,) = measured(editor)
    assert body.body.volume() == pytest.approx(ring * 140, rel=2e-2)
    assert min(held.data["lanes"]["tilt"]) < 85
    page.get_by_role("group", name="Regions of the profile").get_by_role("checkbox").nth(1).click()
    _, bodies = measured(editor)
    assert sum(b.body.volume() for b in bodies) == pytest.approx(math.pi * 14**2 * 140, rel=2e-2)
    page.get_by_role("group", name="Regions of the profile").get_by_role("checkbox").nth(0).focus()
    editor.key("Space")
    _, (body,) = measured(editor)
    assert body.body.volume() == pytest.approx(144 * 140, rel=2e-2)


def test_a_self_crossing_path_is_built_and_reported(editor: Editor, page: Page):
    begin(editor, page)
    draw(editor, "s", (-60, -30), (40, 30), (40, -30), (-60, 30), finish="Enter")
    editor.done()
    editor.key("q")
    _, (body,) = measured(editor)
    assert body.body.volume() > 0
    message = page.get_by_text("The path comes within")
    expect(message).to_be_visible()
    message.click()
    expect(page.get_by_test_id("station-readout")).to_contain_text("at ")


def test_trim_drawn_flat_is_stood_up_and_mitred_or_rounded(editor: Editor, page: Page):
    """Jobs 3, 13, 20: loose lines with right angles and a profile beside them, all on one plane."""
    begin(editor, page, "top")
    draw(editor, "l", (-60, -40), (60, -40), (60, 40))
    draw(editor, "Shift+B", (-90, 10), (-78, 30))
    editor.done()
    editor.key("w")
    editor.wait_built()
    assert step(editor.document(), "sweep1")["corners"] == "mitre"  # by itself
    choose(page, "Corners", "Refused")
    expect(page.get_by_text("The path has a corner of 90°").first).to_be_visible()
    page.get_by_role("button", name="Mitre the corners").first.click()
    report, (body,) = measured(editor)
    assert report.data["length"] == pytest.approx(200, abs=1)
    assert body.body.volume() == pytest.approx(240 * 200, rel=1e-2)
    assert report.data["lanes"]["y"][0] == pytest.approx([0, 0, 1], abs=1e-9)  # its y stands up
    choose(page, "Corners", "Rounded")
    editor.field("Corner radius", "30")
    report, (body,) = measured(editor)
    editor.key("Escape")
    choose(page, "Material", "Steel")
    editor.wait_built()
    editor.select("sweep1")
    assert editor.number("Mass") == pytest.approx(body.body.volume() * 7.85e-3, rel=1e-3)
    assert body.body.volume() == pytest.approx(240 * (200 - 60 + 15 * math.pi), rel=1e-2)
    editor.field("Corner radius", "300")
    expect(page.get_by_text("Give a radius under").first).to_be_visible()


def test_a_pipe_clip_is_cut_and_kept_in_common(editor: Editor, page: Page):
    """Job 3: the same sweep cut from a block, then what both have in common."""
    begin(editor, page, "top")
    draw(editor, "b", (0, 0), (40, 20))
    editor.done()
    editor.key("x")
    editor.field("Forward", "30")
    editor.wait_built()
    sketch_on(editor, page, "top")
    draw(editor, "l", (-70, 0), (70, 0))
    editor.done()
    editor.key("q")
    editor.field("Diameter", "24")
    page.get_by_role("radiogroup", name="Result").get_by_text("Cut").click()
    _, (body,) = measured(editor)
    half = math.pi * 144 / 2 * 80
    assert body.body.volume() == pytest.approx(80 * 40 * 30 - half, rel=1e-2)
    page.get_by_role("radiogroup", name="Result").get_by_text("Common").click()
    _, (body,) = measured(editor)
    assert body.body.volume() == pytest.approx(half, rel=1e-2)


def test_a_grip_reaches_one_rail_then_two_then_across_only(editor: Editor, page: Page):
    """Jobs 4 and 15: a circle on a straight path with a rail above and a rail beside it."""
    begin(editor, page, "front")
    draw(editor, "l", (-60, 0), (60, 0))
    editor.done()
    sketch_on(editor, page, "front")
    draw(editor, "l", (-75, 5), (75, 35))
    editor.done()
    sketch_on(editor, page, "top")
    draw(editor, "l", (-75, 20), (75, 20))
    editor.done()
    editor.select("sketch1")
    editor.key("q")
    editor.field("Diameter", "20")
    editor.wait_built()
    page.get_by_role("button", name="Steer it by a rail").click()
    choose(page, "Rail 1", "Sketch")
    report, (body,) = measured(editor)
    size = [report.data["lanes"]["map"][i][0] for i in (0, -1)]
    assert size == pytest.approx([0.8, 3.2], abs=0.1)
    cone = math.pi * 100 * 120 / 3 * (size[0] ** 2 + size[0] * size[1] + size[1] ** 2)
    assert body.body.volume() == pytest.approx(cone, rel=1e-3)
    expect(page.get_by_test_id("lens-stretch")).to_be_visible()
    page.get_by_role("radiogroup", name="What the rails do").get_by_text("Across only").click()
    report, (body,) = measured(editor)
    assert body.body.volume() == pytest.approx(math.pi * 100 * 120 * sum(size) / 2, rel=1e-2)
    page.get_by_role("button", name="Another rail").click()
    report, (body,) = measured(editor)
    assert len(step(editor.document(), "sweep1")["rails"]) == 2
    assert body.body.volume() == pytest.approx(math.pi * 100 * 120 * 2 * sum(size) / 2, rel=2e-2)  # twice as wide, too
    editor.key("Control+z")
    editor.wait_built()
    assert len(step(editor.document(), "sweep1")["rails"]) == 1


def test_a_bowl_whose_rim_is_a_hexagon(editor: Editor, page: Page):
    """Job 12: an arc round a circle as a surface, then with a hexagon as rail, thickened, then with a wall in its
    section.
    """
    begin(editor, page, "top")
    draw(editor, "c", (0, 0), (40, 0))
    editor.done()
    sketch_on(editor, page, "front")
    draw(editor, "a", (40, 0), (70, 30), (61, 9))
    editor.done()
    editor.key("w")
    choose(page, "Profile", "Sketch")
    choose(page, "Path", "Path")
    page.get_by_role("button", name="As a surface…").click()
    page.get_by_role("switch", name="As a surface").click()
    report, (body,) = measured(editor)
    assert body.body.sheet
    assert body.body.area() == pytest.approx(report.data["numbers"]["area"], rel=1e-6)
    locker(editor, page, "Plane beside another")
    editor.field("Distance", "30")
    choose(page, "Beside which plane", "XY, seen from the top")
    editor.wait_built()
    open_sketch(editor, page, "Profile on the plane")
    draw(editor, "p", (0, 0), (85, 0))
    editor.done()
    document = editor.document()
    order = [s["id"] for s in document["steps"]]
    sweep_last = [i for i in order if i != "sweep1"] + ["sweep1"]
    for _ in range(len(order) - 1 - order.index("sweep1")):
        page.locator('[data-step="sweep1"]').get_by_role("button", name="More for Sweep").click()
        page.get_by_role("menuitem", name="Move down").click()
        editor.wait_built()
    assert [s["id"] for s in editor.document()["steps"]] == sweep_last
    editor.select("sweep1")
    page.get_by_role("button", name="Steer it by a rail").click()
    page.get_by_role("radiogroup", name="What the rails do").get_by_text("Across only").click()
    report, (body,) = measured(editor)
    assert body.body.sheet
    reach = [math.hypot(p[0], p[1]) for p in rim(report.data)]
    assert max(reach) == pytest.approx(85, abs=0.6)
    assert min(reach) == pytest.approx(85 * math.cos(math.pi / 6), abs=0.6)
    area = body.body.area()
    editor.key("Shift+T")
    editor.field("Wall", "1.5")
    page.get_by_label("Side of the surface").get_by_text("In front").click()
    thick, (body,) = measured(editor, "thickened1")
    assert body.body.valid()
    assert thick.data["walls"]["least"] == pytest.approx(1.5, abs=1e-4)
    assert 1.5 <= thick.data["walls"]["most"] < 1.55  # where its creases are met from outside
    assert editor.number("Thinnest wall") == 1.5
    editor.key("Delete")
    editor.select("sweep1")
    editor.field("Wall", "1.5")
    _, (body,) = measured(editor)
    assert not body.body.sheet
    assert body.body.volume() == pytest.approx(1.5 * area, rel=0.12)


def rim(data: dict[str, Any]) -> list[list[float]]:
    """Where the profile's outer end goes."""
    lanes, ends = data["lanes"], (data["section"]["loops"][0][0], data["section"]["loops"][0][-1])
    outer = max(ends, key=lambda p: math.hypot(*p))
    frames = zip(lanes["point"], lanes["x"], lanes["y"], strict=True)
    return [[c[k] + outer[0] * x[k] + outer[1] * y[k] for k in range(3)] for c, x, y in frames]


def test_an_auger_blade_stays_upright_along_its_helix(editor: Editor, page: Page):
    """Job 14."""
    begin(editor, page, "front")
    draw(editor, "Shift+B", (20, -6), (38, 6))
    editor.done()
    locker(editor, page, "Helix")
    editor.field("Radius", "20")
    editor.field("Pitch", "25")
    editor.field("Turns", "4")
    editor.wait_built()
    editor.key("w")
    choose(page, "Orientation", "Upright")
    report, (body,) = measured(editor)
    assert body.body.valid()
    section = report.data["section"]
    xs = [p[0] for p in section["loops"][0]]
    centre = 20 + (min(xs) + max(xs)) / 2
    assert body.body.volume() == pytest.approx(section["area"] * 2 * math.pi * centre * 4, rel=1e-5)
    assert {round(abs(y[2]), 6) for y in report.data["lanes"]["y"]} == {1.0}
    expect(page.get_by_test_id("station-readout")).to_contain_text("mm")


def test_two_orientations_side_by_side_under_one_cutting_plane(editor: Editor, page: Page):
    """Job 19: the same wave swept twice; the cut shows one section turned, the other not."""
    begin(editor, page, "front")
    draw(editor, "s", (-60, 0), (-25, 18), (25, -18), (60, 0), finish="Enter")
    editor.done()
    for number in (1, 2):
        editor.select("sketch1")
        editor.key("q")
        choose(page, "Where the profile comes from", "Rectangle")
        editor.field("Width", "16")
        editor.field("Height", "5")
        editor.wait_built()
        if number == 2:
            choose(page, "Orientation", "Held parallel")
            editor.field("At station", "0") if page.get_by_label("At station", exact=True).count() else None
    turned, bodies = measured(editor, "sweep1")
    held, _ = measured(editor, "sweep2")
    assert len(bodies) == 2
    assert turned.data["numbers"]["volume"] == pytest.approx(80 * turned.data["length"], rel=1e-6)
    assert held.data["numbers"]["volume"] < turned.data["numbers"]["volume"]
    editor.key("c")
    expect(page.get_by_text("Cut at")).to_be_visible()
    choose(page, "Cutting plane", "Square to X")
    before = page.get_by_test_id("stage").screenshot()
    page.get_by_role("button", name="Show the other side").click()
    editor.until(lambda: page.get_by_test_id("stage").screenshot() != before, "the other side is not shown")
    page.get_by_role("button", name="Stop cutting").click()
    expect(page.get_by_text("Cut at")).to_have_count(0)


def test_a_bulb_from_two_silhouettes(editor: Editor, page: Page):
    """The sweep of job 21: a straight path, two side curves, an ellipse that reaches both."""
    bulb(editor, page)
    report, (body,) = measured(editor)
    assert body.body.valid()
    middle = report.data["lanes"]["station"].index(min(report.data["lanes"]["station"], key=lambda s: abs(s - 50)))
    m, section = report.data["lanes"]["map"][middle], report.data["section"]
    reach = sorted([m[0] * section["width"] / 2, m[3] * section["height"] / 2])
    assert reach == pytest.approx([30, 42], abs=0.8)
    full = report.data["numbers"]["volume"]
    assert body.body.volume() == pytest.approx(full, rel=1e-5)
    assert full > math.pi * 20 * 14 * 100


def test_a_law_is_dragged_on_the_strip_and_typed_in_the_slip(editor: Editor, page: Page):
    begin(editor, page, "front")
    draw(editor, "l", (-60, 0), (60, 0))
    editor.done()
    editor.key("q")
    editor.wait_built()
    page.get_by_role("button", name="Change it along the path…").click()
    choose(page, "Both ways", "Table")
    editor.wait_built()
    mark = page.get_by_role("slider", name="size mark 2")  # the lane of a law that is given opens by itself
    box = mark.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 6, box["y"] + 6)
    page.mouse.down()
    for i in range(1, 6):
        page.mouse.move(box["x"] + 6 + 8 * i, box["y"] + 6 + 3 * i)
        editor.settle()
    with page.expect_response(lambda r: r.request.method == "PUT"):
        page.mouse.up()
    editor.wait_built()
    points = step(editor.document(), "sweep1")["size"]["points"]
    assert points[1]["at"] > 61
    assert points[1]["value"] < 1.28
    mark.focus()
    with page.expect_response(lambda r: r.request.method == "PUT"):
        editor.key("ArrowUp")
    editor.wait_built()
    higher = step(editor.document(), "sweep1")["size"]["points"][1]["value"]
    assert higher == pytest.approx(points[1]["value"] + 0.01, abs=2e-3)
    editor.field("Value of row 2", "0.001")
    expect(page.get_by_text("The section shrinks to").first).to_be_visible()
    editor.field("Value of row 2", "1.5")
    report, _ = measured(editor)
    assert max(m[0] for m in report.data["lanes"]["map"]) == pytest.approx(1.5, abs=1e-3)
