"""Shapes beside the sweep, made in the browser from an empty part and measured."""

from __future__ import annotations

import math
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
import trimesh
from playwright.sync_api import Page, expect
from scipy.integrate import quad

from leadline.exports.formats import Look, export
from leadline.recipe.build import build
from tests.support.blocks import BOX
from tests.support.editor import Editor
from tests.support.hands import choose, draw, sketch_on
from tests.support.parts import XY, bar, part, polyline, sketch


def test_a_loft_from_a_rectangle_to_a_circle_keeps_square_and_its_threads_are_dragged(editor: Editor, page: Page):
    editor.new_part()
    editor.key("Shift+L")
    editor.wait_built()
    slip = page.get_by_role("complementary", name="Inputs")
    first = page.get_by_role("group", name="Section 1")
    first.get_by_label("What section 1 is").click()
    page.get_by_role("option", name="Round", exact=True).click()
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(math.pi * 40 / 3 * (20**2 + 20 * 10 + 10**2) / 1000, rel=1e-4)
    page.get_by_label("Leaving the first section").get_by_text("Square to it").click()
    editor.wait_built()
    # the shares of the first section, b(t) = 1 - (3 t² - t³) / 2 with no slope at t = 0 and no bend at t = 1, of the
    # radius
    exact = math.pi * 40 * sum(w * (20 - 10 * (3 * t * t - t**3) / 2) ** 2 for t, w in gauss())
    assert editor.number("Volume") == pytest.approx(exact / 1000, rel=1e-4)
    editor.key("Control+z")
    editor.key("Control+z")
    editor.wait_built()
    square = editor.document()["steps"][-1]
    assert (square["start"]["how"], square["sections"][0]["profile"]["quick"]) == ("free", "rectangle")
    expect(slip.get_by_text("Threads in the stage show")).to_be_visible()
    before = editor.number("Volume")
    editor.key("2")  # from the top
    editor.settle()
    angle = math.pi * 3 / 16  # half of the short side's share of the outline, 24 of 128 mm
    editor.pull_in_stage(10 * math.cos(angle), 10 * math.sin(angle), -4, "drag what corresponds, along section 2")
    threads = [t["shares"] for t in editor.document()["steps"][-1]["threads"]]
    steps = sorted((b - a) % 1 for (_, a), (_, b) in pairwise([*threads, threads[0]]))
    assert steps[0] < 0.16  # the short sides had 0.1875 each
    assert steps[-1] > 0.33  # the long ones 0.3125
    assert editor.number("Volume") != pytest.approx(before, rel=1e-4)
    page.get_by_role("button", name="Match the sections anew").click()
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(before, rel=1e-6)


def test_a_loft_between_planes_square_to_each_other_is_ruled(editor: Editor, page: Page):
    first = {
        "by": "quick",
        "profile": {"quick": "rectangle", "width": 60, "height": 30},
        "plane": {"kind": "principal", "plane": "XY"},
        "x": -50,
    }
    last = {
        "by": "quick",
        "profile": {"quick": "rectangle", "width": 30, "height": 30},
        "plane": {"kind": "principal", "plane": "YZ"},
        "y": 60,
    }
    loft = {"kind": "loft", "id": "loft1", "name": "Loft", "sections": [first, last]}
    editor.open_document(
        {"format": "leadline-part", "version": 1, "name": "Ruled", "units": "mm", "values": [], "steps": [loft]}
    )
    editor.select("loft1")
    turning = editor.number("Volume")
    page.get_by_label("How it goes from section to section").get_by_text("Ruled").click()
    editor.wait_built()
    side = np.array([(-80, 0), (-20, 0), (0, 45), (0, 75)])  # of a prism across, 30 mm wide
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in pairwise([*side, side[0]])) / 2
    assert editor.number("Volume") == pytest.approx(30 * area / 1000, rel=1e-4)
    assert turning != pytest.approx(30 * area / 1000, rel=1e-2)
    page.get_by_label("Leaving the first section").get_by_text("Square to it").click()
    expect(editor.messages()).to_contain_text("straight towards the next")
    page.get_by_role("button", name="Leave the end free", exact=True).click()
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(30 * area / 1000, rel=1e-4)


def gauss() -> list[tuple[float, float]]:
    """Nodes and weights on 0 to 1, exact up to degree 7."""
    a, b = math.sqrt(3 / 7 - 2 / 7 * math.sqrt(6 / 5)), math.sqrt(3 / 7 + 2 / 7 * math.sqrt(6 / 5))
    wa, wb = (18 + math.sqrt(30)) / 72, (18 - math.sqrt(30)) / 72
    return [(0.5 + x / 2, w) for x, w in ((a, wa), (-a, wa), (b, wb), (-b, wb))]


def round_loft(editor: Editor, page: Page) -> None:
    """From an empty part to a cone frustum of Ø40 and Ø20, 40 mm high."""
    editor.new_part()
    editor.key("Shift+L")
    first = page.get_by_role("group", name="Section 1")
    first.get_by_label("What section 1 is").click()
    page.get_by_role("option", name="Round", exact=True).click()
    expect(first.get_by_label("Diameter", exact=True)).to_have_value("40")
    editor.wait_built()


def test_edges_are_picked_one_after_the_other_and_rounded_also_where_bodies_were_joined(editor: Editor, page: Page):
    round_loft(editor, page)
    editor.key("Shift+R")
    end = page.get_by_role("button", name="Click edges in the stage; here to end")
    expect(end).to_be_visible()
    editor.key("1")
    editor.settle()
    x, y, _ = editor.point_at(0, -20, "take Loft · edge of")
    page.mouse.click(x, y)
    expect(page.get_by_label("Take edge 1 away")).to_be_visible()
    end.click()
    editor.field("Radius", "3")
    editor.wait_built()
    frustum = math.pi * 40 / 3 * (400 + 200 + 100)
    assert editor.number("Volume") * 1000 < frustum
    report = editor.document()["steps"][-1]
    (edge,) = report["edges"]
    assert (edge["step"], edge["edge"]) == ("loft1", "loft1/cap/start&loft1/side/round/0")
    assert edge["seen"] is not None
    editor.field("Radius", "90")
    editor.wait_built()
    expect(editor.messages()).to_contain_text("Largest that fits")
    editor.key("Control+z")
    editor.wait_built()
    page.get_by_label("How edges are shaped").get_by_text("Chamfer").click()
    editor.wait_built()
    assert editor.number("Volume") * 1000 < frustum - math.pi * 40 * 3


def test_a_loft_is_made_hollow_with_its_end_left_open(editor: Editor, page: Page):
    round_loft(editor, page)
    whole = editor.number("Volume") * 1000
    editor.key("Shift+H")
    editor.wait_built()
    closed = editor.number("Volume") * 1000
    assert 0 < closed < whole
    page.get_by_role("button", name="Open a face").click()
    editor.key("2")
    editor.settle()
    x, y, _ = editor.stage_pixel(0, 0)
    page.mouse.click(x, y)
    expect(page.get_by_label("Close face 1")).to_be_visible()
    editor.wait_built()
    assert editor.document()["steps"][-1]["opened"] == [{"step": "loft1", "face": "loft1/cap/end", "seen": None}]
    assert editor.number("Volume") * 1000 == pytest.approx(
        closed - 2 * math.pi * (10 - 2 * math.hypot(40, 10) / 40) ** 2, rel=0.02
    )
    assert editor.number("Thinnest wall") == pytest.approx(2, abs=0.01)
    editor.field("Wall", "15")
    editor.wait_built()
    expect(editor.messages()).to_contain_text("Thickest that fits")


def test_a_body_is_split_mirrored_copied_in_rows_and_put_together(editor: Editor, page: Page):
    round_loft(editor, page)
    frustum = math.pi * 40 / 3 * (400 + 200 + 100) / 1000
    editor.key("Shift+S")
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(frustum, rel=1e-4)
    page.get_by_label("Pieces that are kept").get_by_text("Ahead").click()
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(frustum / 2, rel=1e-4)
    editor.key("Shift+M")
    editor.wait_built()
    assert editor.number("Copied volume") == pytest.approx(frustum / 2, rel=1e-4)
    page.get_by_label("ResultMode").get_by_text("Add").click()
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(frustum, rel=1e-4)
    editor.key("Shift+W")
    editor.wait_built()
    assert editor.document()["steps"][-1]["source"] == "loft1"
    assert editor.number("Bodies in all") == 3
    editor.field("Spacing along x", "30")
    editor.wait_built()
    expect(editor.messages()).to_contain_text("Copies touch")
    editor.key("Shift+C")
    editor.wait_built()
    combined = editor.document()["steps"][-1]
    assert (combined["body"], combined["tools"]) == ("loft1", ["arranged2"])
    # two overlaps of circles of r(z) = 20 - z / 4, their middles 30 mm apart, for as long as r > 15
    lens = sum(w * 20 * _overlap(20 - 20 * t / 4, 30) for t, w in gauss())
    assert editor.number("Volume") == pytest.approx(3 * frustum - 2 * lens / 1000, rel=5e-4)
    for _ in range(3):
        editor.key("Control+z")
    editor.wait_built()
    assert editor.document()["steps"][-1]["kind"] == "arranged"
    editor.key("Shift+O")
    editor.wait_built()
    assert editor.number("Bodies in all") == 6


def _overlap(r: float, d: float) -> float:
    """The area that two circles of radius r have in common, their middles d apart."""
    return 2 * r * r * math.acos(d / 2 / r) - d / 2 * math.sqrt(4 * r * r - d * d)


def test_a_block_is_extruded_up_to_a_face_and_short_of_a_plane(editor: Editor, page: Page):
    """A block about a loft that is twice as high, until it is as high as that, or as a plane there less 4 mm."""
    round_loft(editor, page)
    sketch_on(editor, page, "top")
    draw(editor, "l", (-30, -30), (30, -30), (30, 30), (-30, 30), (-30, -30))
    editor.done()
    editor.key("x")
    editor.wait_built()
    shown = editor.document()["steps"][-2]["sketch"]["points"]
    area = np.prod(np.ptp([[p["x"], p["y"]] for p in shown], axis=0)) / 1000
    assert editor.number("Volume") == pytest.approx(20 * area, rel=1e-6)
    ends = page.get_by_label("Where it ends")
    ends.get_by_text("Plane", exact=True).click()
    editor.wait_built()
    expect(editor.messages()).to_contain_text("or right there")  # it is the sketch's own plane
    page.get_by_role("combobox", name="Plane where it ends").click()
    page.get_by_role("option", name="Plane beside").click()
    editor.field("Short of it", "4")
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(36 * area, rel=1e-6)
    ends.get_by_text("Length", exact=True).click()
    editor.wait_built()
    ends.get_by_text("Face", exact=True).click()
    expect(page.get_by_role("button", name="Click it in the stage…")).to_be_visible()
    editor.key("2")  # from the top
    editor.settle()
    x, y, _ = editor.stage_pixel(0, 0)
    page.mouse.click(x, y)
    editor.wait_built()
    assert editor.document()["steps"][-1]["until"]["face"] == {"step": "loft1", "face": "loft1/cap/end", "seen": None}
    assert editor.number("Volume") == pytest.approx(40 * area, rel=1e-6)


def test_a_badge_is_put_in_before_the_body_is_made_hollow_and_does_not_show_inside(editor: Editor, page: Page):
    document = bar(diameter=40)
    document["steps"] += [
        {"kind": "datum", "id": "beside", "name": "Beside", "how": {"by": "offset", "plane": XY, "distance": 60}},
        {
            "kind": "hollow",
            "id": "hollow",
            "name": "Hollow",
            "body": "sweep",
            "wall": 2,
            "opened": [{"step": "sweep", "face": "sweep/cap/end"}],
        },
    ]
    editor.open_document(document)
    editor.select("hollow")
    plain = editor.number("Volume")
    sinker = page.get_by_role("slider", name="Sinker")
    sinker.focus()
    editor.key("ArrowUp")
    editor.wait_built()
    editor.select("beside")
    editor.key("o")
    expect(editor.canvas).to_be_visible()
    editor.key("c")
    editor.click(50, 0)
    editor.click(55, 0)
    editor.key("Escape")
    editor.done()
    editor.key("Shift+B")
    editor.wait_built()
    assert [s["kind"] for s in editor.document()["steps"]][-3:] == ["sketch", "embossed", "hollow"]
    shown = editor.document()["steps"][-3]["sketch"]["entities"][0]
    badge = (
        quad(
            lambda y: 2 * math.sqrt(shown["radius"] ** 2 - y**2) * (math.sqrt(441 - y**2) - math.sqrt(400 - y**2)),
            -shown["radius"],
            shown["radius"],
        )[0]
        / 1000
    )
    assert editor.number("Its volume") == pytest.approx(badge, rel=1e-4)
    sinker.focus()
    editor.key("ArrowDown")
    editor.wait_built()
    editor.select("hollow")
    assert editor.number("Volume") == pytest.approx(plain + badge, rel=1e-4)


def test_a_body_comes_from_a_file_and_is_drawn_on(editor: Editor, page: Page, tmp_path: Path):
    block = part(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Block",
            "units": "mm",
            "steps": [
                sketch("plan", XY, polyline((-20, -10), (20, -10), (20, 10), (-20, 10), closed=True)),
                {"kind": "extrude", "id": "b", "name": "Block", "profile": {"step": "plan"}, "length": 12},
            ],
        }
    )
    file = tmp_path / "block.step"
    file.write_bytes(export(build(block), "step", Look.of(block)))
    editor.new_part()
    editor.wait_built()
    editor.key("Shift+F")
    page.locator("[data-choose]").set_input_files(file)
    expect(page.get_by_role("table", name="What came in")).to_contain_text("Block")
    editor.wait_built()
    assert editor.number("Bodies") == 1
    assert editor.number("Volume") == pytest.approx(9.6)
    editor.key("2")
    editor.settle()
    x, y, _ = editor.point_at(0, 0, "block · flat face")
    page.mouse.click(x, y)
    editor.settle()
    editor.key("Shift+K")
    expect(editor.canvas).to_be_visible()
    editor.key("c")
    editor.click(0, 0)
    editor.click(5, 0)
    editor.key("Escape")
    editor.done()
    editor.key("x")
    editor.wait_built()
    steps = editor.document()["steps"]
    assert [s["kind"] for s in steps] == ["imported", "datum", "sketch", "extrude"]
    assert steps[1]["how"]["seen"]["normal"] == [0, 0, 1]
    radius = steps[2]["sketch"]["entities"][0]["radius"]
    assert editor.number("Volume") == pytest.approx(math.pi * radius**2 * steps[3]["length"] / 1000, rel=1e-4)


def test_a_mesh_comes_from_a_file_in_a_unit_of_its_own_and_its_distance_is_measured(
    editor: Editor, page: Page, tmp_path: Path
):
    """A ball of 10 mm, then of 10 cm; a path of 200 mm passes it at 150 mm."""
    file = tmp_path / "ball.stl"
    file.write_bytes(trimesh.creation.icosphere(3, 10.0).export(file_type="stl"))
    way = sketch("way", XY, polyline((150, -100), (150, 100)))
    editor.open_document(
        {"format": "leadline-part", "version": 1, "name": "Near a ball", "units": "mm", "steps": [way]}
    )
    editor.key("Shift+F")
    page.locator("[data-choose]").set_input_files(file)
    came = page.get_by_role("table", name="What came in")
    expect(came).to_contain_text("Triangles")
    editor.wait_built()
    small = editor.number("ball")
    page.get_by_role("combobox", name="Unit of its numbers").click()
    page.get_by_role("option", name="Centimetres").click()
    editor.wait_built()
    assert editor.number("ball") == pytest.approx(1000 * small, rel=1e-4)
    (ball,) = [s["id"] for s in editor.document()["steps"] if s["kind"] == "imported"]
    document = editor.document()
    document["steps"].append(
        {
            "kind": "clearance",
            "id": "room",
            "name": "Room",
            "path": {"step": "way"},
            "diameter": 10,
            "obstacles": [ball],
        }
    )
    editor.open_document(document)
    editor.select("room")
    assert editor.number("Least clearance") == pytest.approx(150 - 100 - 5, abs=0.2)


def test_two_open_outlines_are_lofted_to_a_surface_that_is_made_thick(editor: Editor, page: Page):
    """From a line of 20 mm to one of 32 mm, 40 mm above it."""
    above = {"kind": "datum", "id": "above", "name": "Above", "how": {"by": "offset", "plane": XY, "distance": 40}}
    high = sketch("high", {"kind": "step", "step": "above"}, polyline((16, 0), (-16, 0)))
    low = sketch("low", XY, polyline((-10, 0), (10, 0)))
    editor.open_document(
        {"format": "leadline-part", "version": 1, "name": "Flap", "units": "mm", "steps": [above, low, high]}
    )
    editor.key("Shift+L")
    editor.wait_built()
    (loft,) = [s for s in editor.document()["steps"] if s["kind"] == "loft"]
    assert loft["surface"]
    assert editor.number("Surface") == pytest.approx(40 * 26, rel=1e-4)
    expect(page.get_by_test_id("lens-amount")).to_have_text("20 mm long")
    editor.key("Shift+T")
    editor.wait_built()
    (thick,) = [s for s in editor.document()["steps"] if s["kind"] == "thickened"]
    assert editor.number("Volume") == pytest.approx(40 * 26 * thick["wall"] / 1000, rel=1e-4)
    choose(page, "How the wall is given", "Table")
    mark = page.get_by_role("slider", name="wall mark 2")
    mark.focus()
    editor.key("Shift+ArrowUp")
    editor.wait_built()
    assert editor.document()["steps"][-1]["wall"]["points"][1]["value"] == pytest.approx(thick["wall"] + 0.1)
    more = 40 * quad(lambda t: 0.1 * t * (20 + 12 * t), 0, 1)[0]  # the wall grows towards the wider end
    assert editor.number("Volume") == pytest.approx((40 * 26 * thick["wall"] + more) / 1000, rel=1e-4)


def test_a_rounding_is_seen_while_its_radius_is_typed(editor: Editor, page: Page):
    """An upright edge of a block of 40 x 20 x 30, by 1 mm, then 6."""
    edge = {"step": "b", "edge": "b/side/e0/0&b/side/e1/0"}
    rounding = {"kind": "rounding", "id": "r", "name": "Soft", "edges": [edge], "how": {"by": "even", "radius": 1}}
    editor.open_document(
        {"format": "leadline-part", "version": 1, "name": "Soft block", "units": "mm", "steps": [*BOX, rounding]}
    )
    editor.select("r")
    left = lambda radius: 24000 - (1 - math.pi / 4) * radius**2 * 30  # noqa: E731
    assert editor.number("Volume") == pytest.approx(left(1) / 1000, rel=1e-4)
    page.get_by_label("Radius", exact=True).fill("6")
    editor.until(lambda: editor.number("Volume") == pytest.approx(left(6) / 1000, rel=1e-4), "it is not shown")
    assert editor.document()["steps"][-1]["how"]["radius"] == 1
    page.get_by_label("Radius", exact=True).fill("60")
    expect(editor.messages().first).to_contain_text("mm")
    page.get_by_label("Radius", exact=True).fill("7")
    page.get_by_label("Radius", exact=True).press("Enter")
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(left(7) / 1000, rel=1e-4)
    assert editor.document()["steps"][-1]["how"]["radius"] == 7


def test_a_radius_is_dragged_along_its_edge(editor: Editor):
    """An upright edge of a block of 40 x 20 x 30, rounded by 1, 3 and 1 mm: the middle mark is pulled up by 9 of the 30
    mm.
    """
    points = [{"at": "0%", "value": 1}, {"at": "50%", "value": 3}, {"at": "100%", "value": 1}]
    edge = {"step": "b", "edge": "b/side/e0/0&b/side/e1/0"}
    rounding = {
        "kind": "rounding",
        "id": "r",
        "name": "Soft",
        "edges": [edge],
        "how": {"by": "table", "points": points},
    }
    editor.open_document(
        {"format": "leadline-part", "version": 1, "name": "Soft block", "units": "mm", "steps": [*BOX, rounding]}
    )
    editor.select("r")
    editor.key("1")
    editor.settle()
    editor.pull_in_stage(20, 0, 9, "drag where the radius is 3 mm")
    editor.wait_built()
    moved = editor.document()["steps"][-1]["how"]["points"][1]["at"]
    assert float(moved.removesuffix("%")) == pytest.approx(80, abs=1.5) or float(
        moved.removesuffix("%")
    ) == pytest.approx(20, abs=1.5)
