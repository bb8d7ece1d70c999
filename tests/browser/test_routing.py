"""Paths in space, each done in the browser from an empty part and measured by an independent build."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from playwright.sync_api import Page, expect
from scipy.special import ellipe

from leadline.recipe.build import build
from leadline.recipe.part_file import part_from
from tests.support.editor import Editor
from tests.support.hands import begin, choose, draw, locker, measured, open_sketch, sketch_on
from tests.support.parts import step

CORNERS = [(0, 0, 0), (140, 0, 0), (140, 110, 0), (140, 110, 160)]


def route_points(editor: Editor, corners: list[tuple[float, float, float]]) -> None:
    for i, corner in enumerate(corners):
        for axis, value in zip("xyz", corner, strict=True):
            editor.field(f"{axis} of point {i + 1}", str(value))


def test_a_pipe_through_points_bends_as_given_and_says_when_it_cannot(editor: Editor, page: Page):
    """Job 5: runs in three directions, a radius for all corners and one of its own, hollow inward."""
    editor.new_part()
    page.get_by_role("button", name="Tube through points").click()
    editor.wait_built()
    editor.select("route1")
    route_points(editor, CORNERS)
    editor.field("Bend radius", "30")
    editor.field("Bend radius of point 3", "45")
    editor.wait_built()
    length = 140 + 110 + 160 - 2 * (30 + 45) + (30 + 45) * math.pi / 2
    assert editor.number("Length") == pytest.approx(length, abs=1e-2)
    assert editor.number("Straight") == pytest.approx(140 + 110 + 160 - 150)
    report, (body,) = measured(editor)
    assert body.body.volume() == pytest.approx(math.pi * (49 - 5.5**2) * length, rel=1e-9)
    assert report.data["numbers"]["tightest"] == pytest.approx(30)
    page.get_by_role("button", name="Bends as a sheet").click()
    sheet = page.get_by_role("table", name="Bends of Route")
    expect(sheet.get_by_role("row")).to_have_count(3)
    expect(sheet.get_by_role("row").nth(1)).to_contain_text("110 mm0°90°30 mm")
    expect(sheet.get_by_role("row").nth(2)).to_contain_text("35 mm90°90°45 mm")
    part_id = page.url.rsplit("/", 1)[1]
    table = page.request.get(f"{editor.url}/api/parts/{part_id}/sheets/route1/bends/csv").text().splitlines()
    assert table[0] == "Bend,Feed (mm),Turn (deg),Angle (deg),Radius (mm),From (mm),To (mm)"
    assert [float(v) for v in table[2].split(",")[1:5]] == pytest.approx([35, 90, 90, 45])
    editor.key("Escape")
    editor.field("Bend radius of point 3", "90")
    expect(editor.messages()).to_contain_text("The run from point 2 to 3 is 110 mm long")
    editor.key("Control+z")
    editor.wait_built()
    assert editor.number("Length") == pytest.approx(length, abs=1e-2)
    page.get_by_role("switch", name="Hold the length").click()
    choose(page, "Point that gives way", "Point 2")
    choose(page, "Which way it gives", "Along X")
    editor.field("Length", "420")
    report, (body,) = measured(editor, "route1")
    assert report.data["path"]["length"] == pytest.approx(420, abs=1e-7)
    places = np.array(report.data["route"]["points"])
    assert np.delete(places, 1, axis=0) == pytest.approx(np.delete(np.array(CORNERS), 1, axis=0))
    assert places[1][0] > 141
    assert body.body.volume() == pytest.approx(math.pi * (49 - 5.5**2) * 420, rel=1e-9)


def test_a_tube_is_kept_clear_of_a_body_and_its_room_is_measured(editor: Editor, page: Page):
    begin(editor, page, "top")
    draw(editor, "Shift+B", (40, 40), (60, 60))
    editor.done()
    editor.key("x")
    editor.field("Forward", "90")
    locker(editor, page, "Path through points")
    editor.wait_built()
    editor.key("q")
    editor.field("Diameter", "16")
    editor.wait_built()
    editor.key("s")
    report, bodies = measured(editor, "clearance1")
    clear = report.data["clear"]
    tube, block = (next(b.body for b in bodies if b.step == s) for s in ("sweep1", "extrude1"))
    assert clear["least"] == pytest.approx(BRepExtrema_DistShapeShape(tube.shape, block.shape).Value(), abs=0.03)
    assert clear["least"] > 0
    expect(page.get_by_role("row", name="Closest to Extrude")).to_be_visible()
    expect(page.get_by_test_id("lane-title").filter(has_text="clear of bodies")).to_be_visible()
    expect(page.get_by_test_id("drag-note")).to_contain_text("to Extrude")
    editor.field("At least", str(round(clear["least"]) + 5))
    editor.wait_built()
    expect(page.get_by_text("are asked for")).to_be_visible()
    choose(page, "Bodies to stay clear of", "Extrude")
    report, _ = measured(editor, "clearance1")
    assert step(editor.document(), "clearance1")["obstacles"] == ["extrude1"]
    assert report.data["clear"]["least"] == pytest.approx(clear["least"])


def test_a_bead_follows_the_edge_of_a_body_that_is_picked_in_the_stage(editor: Editor, page: Page):
    begin(editor, page, "top")
    draw(editor, "Shift+B", (-30, -20), (30, 20))
    editor.done()
    editor.key("x")
    editor.wait_built()
    editor.key("2")
    editor.key("Shift+E")
    x, y, _ = editor.point_at(0, 20, "take Extrude · edge of")
    page.mouse.click(x, y)
    report, _ = measured(editor, "edges1")
    length = report.data["path"]["length"]
    assert length == pytest.approx(60, abs=0.2)  # as near as the pointer draws it
    editor.key("q")
    editor.field("Diameter", "4")
    _, bodies = measured(editor)
    (bead,) = (b.body for b in bodies if b.step == "sweep1")
    assert bead.volume() == pytest.approx(math.pi * 4 * length, rel=1e-9)
    editor.key("j")
    choose(page, "Where the start stands", "On a path")
    page.get_by_label("Station of the start", exact=True).fill("5")
    page.get_by_label("Station of the start", exact=True).press("Enter")
    hose, _ = measured(editor, "hose1")
    port = hose.data["hose"]["ports"][0]
    ends = report.data["path"]["points"]
    way = np.subtract(ends[-1], ends[0]) / length
    assert port["outward"] == pytest.approx(way, abs=1e-6)
    assert port["point"] == pytest.approx(np.array(ends[-1]) - 5 * way, abs=1e-3)


def test_a_corner_is_pulled_out_of_a_run_in_the_stage_and_the_tube_follows(editor: Editor, page: Page):
    editor.new_part()
    page.get_by_role("button", name="Tube through points").click()
    editor.wait_built()
    editor.select("route1")
    editor.key("1")
    editor.settle()
    middle = ((0 + 107) / 2, (-7 + 60) / 2)  # of the tube, seen from the front
    editor.pull_in_stage(50 - middle[0], 0 - middle[1], -50, "pull a corner out of run 1")
    points = step(editor.document(), "route1")["points"]
    assert len(points) == 5
    assert [points[1]["at"][k] for k in "xyz"] == pytest.approx([50, 0, -50], abs=1.5)
    _, (body,) = measured(editor)
    assert body.body.valid()


def test_points_come_from_a_file_and_a_file_with_words_is_refused(editor: Editor, page: Page):
    editor.new_part()
    page.get_by_role("button", name="Tube through points").click()
    editor.wait_built()
    editor.select("route1")
    files = page.get_by_test_id("slip").locator('input[type="file"]')
    files.set_input_files(
        {"name": "run.csv", "mimeType": "text/csv", "buffer": b"x,y,z,r\n0,0,0\n90,0,0,12\n90,70,0\nhere,70,50\n"}
    )
    expect(page.get_by_text("Row 5 has “here” where its x should be.")).to_be_visible()
    assert len(step(editor.document(), "route1")["points"]) == 4
    files.set_input_files(
        {"name": "run.csv", "mimeType": "text/csv", "buffer": b"x;y;z;r\n0;0;0\n90,5;0;0;12\n90,5;70;0\n"}
    )
    expect(page.get_by_label("x of point 3", exact=True)).to_have_value("90.5")
    editor.wait_built()
    points = step(editor.document(), "route1")["points"]
    assert [p["radius"] for p in points] == [None, 12, None]


def test_a_route_follows_the_points_of_sketches_on_crossing_planes(editor: Editor, page: Page):
    """Job 5 once more: the plan seen from the top, then the rise seen from the front, joined in order."""
    begin(editor, page, "top")
    draw(editor, "l", (-60, 30), (-60, 0), (20, 0))
    editor.done()
    sketch_on(editor, page, "front")
    draw(editor, "l", (20, 0), (20, 50), (70, 50))
    editor.done()
    editor.select("sketch1")
    editor.key("t")
    editor.wait_built()
    page.get_by_role("button", name="From a sketch").click()
    choose(page, "Sketch whose points follow", "Sketch")
    editor.wait_built()
    places = measured(editor, "route1")[0].data["route"]["points"]
    assert np.array(places) == pytest.approx(
        np.array([[-60, 30, 0], [-60, 0, 0], [20, 0, 0], [20, 0, 50], [70, 0, 50]]), abs=0.6
    )


def test_a_rope_is_wound_about_a_bent_bar(editor: Editor, page: Page):
    """Job 11: the coil takes the bar's radius and stands off it, crossing it at one angle round the bends."""
    editor.new_part()
    page.get_by_role("button", name="Tube through points").click()
    editor.wait_built()
    editor.key("u")
    editor.wait_built()
    editor.field("Turns", "14")
    editor.wait_built()
    report, _ = measured(editor, "wound1")
    assert report.figure.startswith("Ø18 mm, 14 turns")
    assert page.get_by_role("radio", name="At one angle").is_checked()
    editor.key("q")
    editor.field("Diameter", "3")
    editor.wait_built()
    report, bodies = measured(editor, "sweep2")
    (rope,) = [b for b in bodies if b.step == "sweep2"]
    assert rope.body.valid()
    assert rope.body.volume() == pytest.approx(math.pi * 2.25 * report.data["length"], rel=1e-5)


def test_a_tube_coil_lies_on_a_former_that_is_not_round(editor: Editor, page: Page):
    """Job 6: a drawn former about the axis, the tube outside it; the coil's path half a tube off the outline."""
    begin(editor, page, "front")
    draw(editor, "l", (0, 0), (60, 0))
    editor.done()
    open_sketch(editor, page, "Sketch seen from the right")
    editor.key("w")
    for x, y in ((-20, 0), (20, 0), (20, 12)):
        editor.click(x, y)
    editor.key("Escape")
    editor.settle()
    editor.done()
    editor.select("sketch1")
    editor.key("u")
    editor.wait_built()
    choose(page, "Shape of the coil", "On a drawn former")
    editor.field("Standoff", "4")
    editor.field("Turns", "5")
    editor.wait_built()
    report, _ = measured(editor, "wound1")
    around = report.data["path"]["length"]
    editor.key("q")
    editor.field("Diameter", "8")
    editor.field("Wall", "1")
    editor.wait_built()
    _, (coil,) = measured(editor)
    assert coil.body.valid()
    assert coil.body.volume() == pytest.approx(math.pi * (16 - 9) * around, rel=1e-5)
    straight, radius = 80.0, 12 + 4.0  # of the slot, drawn from its middle, that the path runs along
    assert around == pytest.approx(math.hypot(60, 5 * (2 * straight + 2 * math.pi * radius)), rel=0.05)


def test_a_tapered_spring_is_wound_on_a_curved_axis(editor: Editor, page: Page):
    """Job 17: an axis, two radii, turns and a wire; no helper surfaces."""
    begin(editor, page, "front")
    draw(editor, "s", (-60, 0), (-20, 14), (30, 10), (60, 40), finish="Enter")
    editor.done()
    editor.select("sketch1")
    editor.key("u")
    editor.wait_built()
    choose(page, "Shape of the coil", "Round, tapered")
    editor.field("Radius at the start", "14")
    editor.field("Radius at the end", "8")
    editor.field("Turns", "9")
    editor.wait_built()
    report, _ = measured(editor, "wound1")
    assert report.figure.startswith("Ø28 mm to Ø16 mm, 9 turns")
    ends = np.array(report.data["path"]["points"])[[0, -1]]
    axis = np.array(next(iter(measured(editor, "sketch1")[0].data["curves"].values())))[[0, -1]]
    away = np.linalg.norm(ends[:, [0, 2]] - axis, axis=1) ** 2 + ends[:, 1] ** 2
    assert np.sqrt(away) == pytest.approx([14, 8], abs=1e-3)
    editor.key("q")
    editor.field("Diameter", "3")
    _, (wire,) = measured(editor)
    assert wire.body.valid()
    assert wire.body.volume() == pytest.approx(math.pi * 2.25 * report.data["path"]["length"], rel=1e-5)


def test_a_hose_between_two_ports_is_shaped_then_given_its_length(editor: Editor, page: Page):
    """Job 2: ports turned and moved, straights kept, length and tightest bend told live, a limit that speaks up."""
    editor.new_part()
    page.get_by_role("button", name="Hose", exact=True).click()
    editor.wait_built()
    editor.select("hose1")
    editor.field("x of the end", "200")
    page.get_by_label("Straight", exact=True).first.fill("35")
    page.get_by_label("Straight", exact=True).first.press("Enter")
    editor.wait_built()
    report, (body,) = measured(editor, "hose1")
    assert report.data["path"]["pieces"][0]["length"] == pytest.approx(35)
    assert body.body.volume() == pytest.approx(math.pi * (64 - 5.5**2) * report.data["path"]["length"], rel=1e-5)
    assert editor.number("Length") == pytest.approx(report.data["path"]["length"], abs=0.1)
    page.get_by_text("Given length", exact=True).click()
    editor.wait_built()
    editor.field("Length", "400")
    editor.field("Least bend", "80")
    editor.wait_built()
    assert editor.number("Length") == pytest.approx(400, abs=0.05)
    expect(editor.messages()).to_contain_text("the hose may go to 80 mm")
    page.get_by_role("button", name="Shortest that keeps the least bend").click()
    expect(editor.messages()).to_have_count(0)
    shortest, _ = measured(editor, "hose1")
    assert shortest.data["path"]["tightest"] == pytest.approx(80, rel=5e-3)
    assert editor.number("Length") == pytest.approx(shortest.data["path"]["length"], abs=0.05)
    editor.field("Length", "150")
    expect(editor.messages()).to_contain_text("150 mm long, but its ports are")
    editor.key("Control+z")
    editor.wait_built()
    page.get_by_label("Turn the end round").check(force=True)
    editor.wait_built()
    turned, _ = measured(editor, "hose1")
    assert turned.data["hose"]["ports"][1]["outward"] == pytest.approx([0, 0, 1])


def middle_of_view(sweep: dict[str, Any]) -> np.ndarray:
    """Of the box that holds the corners of a sweep's section, which the view is fitted to."""
    lanes = {k: np.array(sweep["lanes"][k]) for k in ("point", "x", "y")}
    outline = np.vstack(sweep["section"]["loops"])
    corners = [
        lanes["point"] + a * lanes["x"] + b * lanes["y"]
        for a in outline[:, 0][[outline[:, 0].argmin(), outline[:, 0].argmax()]]
        for b in outline[:, 1][[outline[:, 1].argmin(), outline[:, 1].argmax()]]
    ]
    box = np.vstack(corners)
    return (box.min(axis=0) + box.max(axis=0)) / 2


def test_a_port_and_its_straight_are_dragged_in_the_stage_and_the_hose_follows(editor: Editor, page: Page):
    editor.new_part()
    page.get_by_role("button", name="Hose", exact=True).click()
    editor.wait_built()
    editor.select("hose1")
    editor.key("1")
    report, _ = measured(editor, "hose1")
    middle = middle_of_view(measured(editor)[0].data)
    port = report.data["hose"]["ports"][0]
    editor.pull_in_stage(port["point"][0] - middle[0], port["point"][2] - middle[2], 30, "drag the start")
    start = step(editor.document(), "hose1")["start"]
    assert start["at"]["z"] == pytest.approx(port["point"][2] + 30, abs=1.5)
    moved, (body,) = measured(editor, "hose1")
    assert body.body.valid()
    editor.key("1")
    middle = middle_of_view(measured(editor)[0].data)
    end = moved.data["hose"]["ports"][1]
    tip = np.array(end["point"]) + end["straight"] * np.array(end["outward"])
    editor.pull_in_stage(tip[0] - middle[0], tip[2] - middle[2], -15, "drag the straight at the end")
    longer = step(editor.document(), "hose1")["end"]["straight"]
    assert longer == pytest.approx(end["straight"] + 15, abs=1.5)
    after, _ = measured(editor, "hose1")
    assert after.data["path"]["pieces"][-1]["length"] == pytest.approx(longer)


def test_sketches_on_crossing_planes_are_joined_into_one_path(editor: Editor, page: Page):
    begin(editor, page, "top")
    draw(editor, "l", (-80, 0), (0, 0))  # both end in the origin, which clicks snap to
    editor.done()
    sketch_on(editor, page, "front")
    draw(editor, "a", (0, 0), (40, 40), (28, 12))
    editor.done()
    editor.key("i")
    editor.wait_built()
    report, _ = measured(editor, "joined1")
    assert report.data["order"] == ["Path", "Sketch"]
    assert report.data["path"]["length"] > 130
    (corner,) = report.messages
    assert corner.place["station"] == pytest.approx(80, abs=1)
    expect(editor.messages()).to_contain_text("two parts meet at a corner")


def test_curves_in_space_by_points_round_and_by_formula(editor: Editor, page: Page):
    """An arc through three points, an ellipse, a closed formula with a tube along it; a formula with a corner says
    where.
    """
    editor.new_part()
    editor.key("Shift+A")
    editor.wait_built()
    for name, place in (("start", (40, 0, 5)), ("between", (0, 40, 5)), ("end", (-40, 0, 5))):
        for axis, value in zip("xyz", place, strict=True):
            editor.field(f"{axis} of {name}", str(value))
    editor.wait_built()
    assert editor.number("Length") == pytest.approx(40 * math.pi, abs=1e-2)
    page.get_by_text("Round", exact=True).click()
    editor.field("Radius along y", "40")
    editor.field("Angle round", "90")
    editor.wait_built()
    assert editor.number("Length") == pytest.approx(50 * ellipe(1 - 0.64), abs=1e-2)
    page.get_by_text("Formula", exact=True).click()
    for axis, text in zip("xyz", ("30*cos(t)", "30*sin(t)", "t/12"), strict=True):
        editor.field(axis, text)
    editor.field("t to", "720")
    editor.key("r")
    report, (tube,) = measured(editor)
    length = 2 * math.hypot(60 * math.pi, 30)
    assert report.data["numbers"]["length"] == pytest.approx(length, rel=1e-9)
    assert tube.body.volume() == pytest.approx(100 * math.pi * length, rel=1e-6)
    editor.select("curve1")
    editor.field("z", "10*abs(t/360 - 1)")
    expect(editor.messages()).to_contain_text("Near t = 360 the formula has a corner or a jump")


def test_a_smooth_route_takes_directions_and_curvatures(editor: Editor, page: Page):
    editor.new_part()
    editor.key("t")
    editor.wait_built()
    page.get_by_text("Smooth curve").click()
    page.get_by_label("Direction at point 1", exact=True).click()
    editor.field("Direction z at point 1", "2")
    editor.field("Radius of curvature at point 2", "30")
    editor.field("Side of the curvature y at point 2", "1")
    editor.key("q")
    report, (tube,) = measured(editor)
    assert tube.body.valid()
    build(part_from(editor.document()), products=(products := {}))
    path = products["route1"].path
    s = np.array([0.0, path.pieces[0].breaks()[1]])
    assert path.tangent(s)[0] == pytest.approx(np.array([1, 0, 2]) / math.sqrt(5), abs=1e-9)
    assert 1 / np.linalg.norm(path.curvature(s), axis=1)[1] == pytest.approx(30)
    assert report.data["numbers"]["length"] == pytest.approx(path.length)
    editor.select("route1")
    page.get_by_label("Direction at point 1", exact=True).click()
    editor.wait_built()
    assert step(editor.document(), "route1")["points"][0]["way"] is None
