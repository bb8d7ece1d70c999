"""Sketches that the jobs ask for, drawn from scratch with the mouse and the keys."""

from __future__ import annotations

import math

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from leadline.core.sketch.model import Sketch
from leadline.core.sketch.outline import coordinates, regions, smooth_outline, spline_curve
from leadline.recipe.build import build
from leadline.recipe.part_file import part_from
from tests.support.editor import Editor
from tests.support.parts import bar, polyline, step
from tests.support.shapes import rectangle


def drawn(editor: Editor, name: str = "sketch1") -> Sketch:
    return Sketch.model_validate(step(editor.document(), name)["sketch"])


def start(editor: Editor, page: Page) -> None:
    editor.new_part()
    page.get_by_role("button", name="Draw a path seen from the top").click()
    expect(editor.canvas).to_be_visible()
    editor.settle()


def act(editor: Editor, page: Page, name: str, values: dict[str, str] | None = None) -> None:
    """An action on the selection, by its button, with its numbers."""
    page.get_by_role("button", name=name, exact=True).first.click()
    for label, value in (values or {}).items():
        page.get_by_label(label, exact=True).fill(value)
    if values is not None:
        page.get_by_role("region", name=name).get_by_role("button", name=name).click()
        expect(page.get_by_role("region", name=name)).to_have_count(0)
    editor.settle()


def test_a_slot_section_stays_symmetric_about_its_path_point(editor: Editor, page: Page):
    document = bar()
    document["steps"] = [s for s in document["steps"] if s["kind"] == "plane" or s["id"] == "path"]
    editor.open_document(document)
    editor.key("o")
    expect(editor.canvas).to_be_visible()
    editor.settle()
    editor.key("w")
    editor.click(0, 0)
    editor.click(20, 0.3)
    editor.click(8, 10)
    expect(page.locator("[data-constraint=on_path]")).to_have_count(1)
    editor.key("d")
    editor.click(9, 10)
    editor.click(9, 17)
    for value in ("80", "4"):
        if value == "4":
            page.locator("[data-dimension] rect").first.click()
        editor.dimension(value)
        profile = next(s for s in editor.document()["steps"] if s["id"] == "sketch1")
        at = coordinates(Sketch.model_validate(profile["sketch"]))
        xs = sorted(float(p[0]) for p in at.values())
        assert xs[0] == pytest.approx(-xs[-1], abs=1e-6)
        (region,) = regions(Sketch.model_validate(profile["sketch"]))
        assert region.area == pytest.approx(float(value) * 20 + math.pi * 100, rel=0.05)


def test_a_spline_leaves_along_its_construction_lines(editor: Editor, page: Page):
    """The free edge of a slab: a control spline whose end legs lie on two lines."""
    start(editor, page)
    editor.key("l")
    for a, b in (((-80, 7), (-50, 52)), ((80, 7), (50, 52))):
        editor.click(*a)
        editor.click(*b)
        editor.key("Escape")
    editor.key("v")
    editor.click(-65, 29.5)
    editor.click(65, 29.5, shift=True)
    editor.key("j")
    editor.settle()
    editor.key("Escape")
    editor.key("Shift+S")
    for x, y in ((-80, 7), (-60, 37), (6, 12), (60, 37), (80, 7)):
        editor.click(x, y)
    editor.key("Enter")
    editor.settle()
    assert page.locator("[data-constraint=on_curve]").count() == 2
    editor.drag((6, 12), (12, -20))
    sketch = drawn(editor)
    spline = next(e for e in sketch.entities if e.kind == "control_spline")
    at = coordinates(sketch)
    curve = spline_curve(spline, at)
    for t, line in ((0.0, sketch.entities[0]), (1.0, sketch.entities[1])):
        u, v = at[line.end] - at[line.start], curve(t, 1)
        assert abs(u[0] * v[1] - u[1] * v[0]) < 1e-6 * np.hypot(*u) * np.hypot(*v)
    editor.key("Shift+K")
    expect(page.get_by_test_id("comb")).to_be_visible()


def test_a_former_is_smoothed_and_follows_its_outline(editor: Editor, page: Page):
    start(editor, page)
    editor.key("p")
    page.get_by_label("Sides").fill("3")
    page.get_by_label("Sides").press("Tab")
    editor.click(0, 0)
    editor.click(0, 60)
    editor.key("f")
    page.get_by_label("Radius").fill("18")
    for i in range(3):
        angle = math.pi / 2 + i * 2 * math.pi / 3
        editor.click(60 * math.cos(angle), 60 * math.sin(angle))
    editor.key("v")
    sketch = drawn(editor)
    assert sorted(e.kind for e in sketch.entities if not e.construction) == ["arc"] * 3 + ["line"] * 3
    at = coordinates(sketch)
    for i, e in enumerate(e for e in sketch.entities if not e.construction):
        ends = at[e.start], at[e.end]
        place = (
            (ends[0] + ends[1]) / 2
            if e.kind == "line"
            else at[e.center] + 18 * unit((ends[0] + ends[1]) / 2 - at[e.center])
        )
        editor.click(float(place[0]), float(place[1]), shift=i > 0)
    act(editor, page, "Smooth the outline", {"Within": "0.8"})
    smoothed = drawn(editor)
    (entity,) = [e for e in smoothed.entities if not e.construction]
    assert smooth_outline(entity, coordinates(smoothed), smoothed)[1] <= 0.8
    editor.done()
    assert build(part_from(editor.document())).reports["sketch1"].state == "fresh"


def unit(v: np.ndarray) -> np.ndarray:
    return v / np.hypot(*v)


def test_an_ellipse_stands_with_its_ends_on_two_side_curves(editor: Editor, page: Page):
    """The silhouettes of a bulb: the ellipse's axis runs from one to the other, and follows both."""
    start(editor, page)
    for points in (((0, 0), (80, 0)), ((0, 18), (40, 30), (80, 12)), ((0, -32), (40, -42), (80, -30))):
        editor.key("s")
        for x, y in points:
            editor.click(x, y)
        editor.key("Enter")
        editor.settle()
        editor.done()
        if points[0][1] >= 0 and len(editor.document()["steps"]) < 3:
            add_sketch(editor, page)
    editor.select("sketch1")
    editor.key("p")
    editor.wait_built()
    page.get_by_text("Share", exact=True).click()
    editor.field("Share of the length", "0.5")
    editor.wait_built()
    editor.key("o")
    expect(editor.canvas).to_be_visible()
    editor.settle()
    expect(page.get_by_label("The path crosses here")).to_have_count(3)
    marks = sorted(
        (m.bounding_box() for m in page.get_by_label("The path crosses here").locator("circle").all()),
        key=lambda b: b["x"] + b["y"],
    )
    low, _, high = [(b["x"] + b["width"] / 2, b["y"] + b["height"] / 2) for b in marks]
    editor.key("l")
    for x, y in (low, high):
        page.mouse.move(x, y)
        page.mouse.click(x, y)
        editor.settle()
    editor.key("Escape")
    editor.key("v")
    page.mouse.click((3 * low[0] + high[0]) / 4, (3 * low[1] + high[1]) / 4)
    editor.key("j")
    editor.settle()
    editor.key("Escape")
    editor.key("Shift+E")
    middle = ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2)
    for x, y in (middle, high, (middle[0] + 40, middle[1] + 40)):
        page.mouse.move(x, y)
        page.mouse.click(x, y)
        editor.settle()
    document = editor.document()
    report = build(part_from(document)).reports[document["steps"][-1]["id"]]
    sketch = Sketch.model_validate(report.data["sketch"])
    (ellipse,) = [e for e in sketch.entities if e.kind == "ellipse"]
    at = coordinates(sketch)
    axis = at[ellipse.major] - at[ellipse.center]
    assert 2 * np.hypot(*axis) == pytest.approx(72, rel=1e-6)
    assert {c.kind for c in sketch.constraints} >= {"on_path", "midpoint"}


def add_sketch(editor: Editor, page: Page) -> None:
    editor.key("a")
    page.get_by_label("Search the locker").fill("seen from the top")
    page.get_by_role("button", name="Sketch seen from the top").click()
    expect(page.get_by_label("Search the locker")).to_have_count(0)
    expect(page.get_by_test_id("freedom")).to_be_visible()


def test_what_is_drawn_is_mirrored_as_it_is_drawn(editor: Editor, page: Page):
    start(editor, page)
    editor.key("v")
    page.get_by_role("button", name="Find").click()
    page.get_by_label("Search the sketch's commands").fill("mirror while")
    page.get_by_role("button", name="Mirror while drawing").click()
    expect(page.get_by_text("Select the line or axis")).to_be_visible()
    expect(page.get_by_label("Search the sketch's commands")).to_have_count(0)
    editor.click(0, 60)
    editor.key("Shift+D")
    expect(page.get_by_text("Mirrored about the upright axis")).to_be_visible()
    editor.key("l")
    editor.click(0, 30)
    editor.click(35, 30)
    editor.click(35, -10)
    editor.click(0, -10)
    editor.key("Escape")
    editor.key("Shift+D")
    sketch = drawn(editor)
    assert len(sketch.entities) == 6
    assert regions(sketch)[0].area == pytest.approx(70 * 40, rel=1e-6)
    editor.key("v")
    editor.drag((35, 30), (50, 30))
    at = coordinates(drawn(editor))
    xs = sorted(float(p[0]) for p in at.values())
    assert xs[0] == pytest.approx(-xs[-1])
    assert xs[-1] == pytest.approx(50, abs=1)


def test_a_projected_line_follows_its_source_and_is_attached_again(editor: Editor, page: Page):
    start(editor, page)
    editor.key("b")
    editor.click(0, 0)
    editor.click(40, 25)
    editor.done()
    add_sketch(editor, page)
    editor.key("Shift+J")
    expect(page.get_by_test_id("sources")).to_be_visible()
    editor.click(20, 25)
    sketch = drawn(editor, "sketch2")
    (projection,) = sketch.projections
    (line,) = sketch.entities
    assert line.construction
    assert projection.what == "curve"
    expect(page.get_by_test_id("freedom")).to_contain_text("Settled")
    editor.done()

    editor.select("sketch1")
    editor.key("e")
    editor.key("d")
    editor.click(20, 25)
    editor.click(20, 33)
    editor.dimension("60")
    editor.done()
    followed = Sketch.model_validate(build(part_from(editor.document())).reports["sketch2"].data["sketch"])
    at = coordinates(followed)
    assert np.hypot(*(at[line.end] - at[line.start])) == pytest.approx(60)

    editor.select("sketch1")
    editor.key("e")
    editor.key("v")
    editor.click(15, 25)
    editor.key("Delete")
    editor.settle()
    editor.done()
    editor.select("sketch2")
    expect(page.get_by_text("stands where it was")).to_be_visible()
    editor.key("e")
    page.get_by_role("button", name="Attach again").click()
    page.mouse.move(640, 420)
    page.mouse.wheel(0, 1000)
    editor.settle()
    editor.click(15, -25)
    expect(page.get_by_text("stands where it was")).to_have_count(0)
    editor.done()
    assert build(part_from(editor.document())).reports["sketch2"].messages == []


def test_a_point_of_the_path_is_dragged_in_the_stage_and_the_sweep_follows(editor: Editor, page: Page):
    editor.new_part()
    page.get_by_role("button", name="Draw a path seen from the front").click()
    expect(editor.canvas).to_be_visible()
    editor.key("s")
    for x, y in ((-80, 15), (9, 55), (80, 15)):
        editor.click(x, y)
    editor.key("Enter")
    editor.settle()
    editor.done()
    editor.select("sketch1")
    editor.key("r")
    editor.wait_built()
    editor.select("sketch1")
    editor.key("1")
    editor.settle()
    data = build(part_from(editor.document())).reports
    curve = np.vstack(list(data["sketch1"].data["curves"].values()))
    middle = (curve.min(axis=0) + curve.max(axis=0)) / 2
    editor.pull_in_stage(9 - middle[0], 55 - middle[1], 20, "drag p2")
    points = coordinates(drawn(editor))
    assert points["p2"] == pytest.approx([9, 75], abs=1.5)
    assert points["p1"] == pytest.approx([-80, 15], abs=0.5)


def test_a_region_of_the_profile_is_left_out(editor: Editor, page: Page):
    document = bar()
    ring = step(document, "profile")["sketch"]
    (outer,) = [e for e in ring["entities"] if e["kind"] == "circle"]
    ring["entities"].append({**outer, "id": "inner", "radius": outer["radius"] / 2})
    ring["dimensions"] = []
    editor.open_document(document)
    editor.select("sweep")
    full = editor.number("Section")
    regions_of = page.get_by_role("group", name="Regions of the profile")
    regions_of.get_by_role("checkbox").nth(1).click()
    editor.wait_built()
    assert editor.number("Section") == pytest.approx(full * 4 / 3, rel=1e-3)
    regions_of.get_by_role("checkbox").nth(0).focus()
    editor.key("Space")
    editor.wait_built()
    assert editor.number("Section") == pytest.approx(full / 3, rel=1e-3)


def test_a_plane_is_picked_in_the_stage_and_an_edge_of_a_body_projected_on_it(editor: Editor, page: Page):
    at = {"kind": "principal", "plane": "XY"}
    pick = [{"step": "base", "point": p} for p in ("a", "b", "d")]
    editor.open_document(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Block",
            "steps": [
                {
                    "kind": "sketch",
                    "id": "base",
                    "name": "Base",
                    "plane": at,
                    "sketch": rectangle(40, 20).sketch().model_dump(mode="json"),
                },
                {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "base"}, "length": 15},
                {"kind": "datum", "id": "tilt", "name": "Tilt", "how": {"by": "points", "points": pick}},
                {
                    "kind": "sketch",
                    "id": "target",
                    "name": "Target",
                    "plane": {"kind": "principal", "plane": "XZ"},
                    "sketch": {},
                },
            ],
        }
    )
    editor.select("tilt")
    editor.key("2")
    editor.settle()
    page.get_by_role("button", name="Pick point 2 in the stage").click()
    editor.point_at(20, 10, "Base: take the point at")
    page.mouse.down()
    page.mouse.up()
    editor.wait_built()
    picked = step(editor.document(), "tilt")["how"]["points"]
    assert [p["point"] for p in picked] == ["a", "c", "d"]

    editor.select("target")
    editor.key("e")
    editor.key("Shift+J")
    expect(page.get_by_test_id("sources")).to_be_visible()
    editor.click(40, 8)
    (projection,) = drawn(editor, "target").projections
    assert (projection.what, projection.source) == ("edge", "block")
    xs, ys = zip(*[p for name, p in coordinates(drawn(editor, "target")).items() if name != "O"], strict=True)
    assert [*xs, *ys] == pytest.approx([40, 40, 0, 15])


def test_the_rim_of_a_hole_is_projected_and_follows_the_bore(editor: Editor, page: Page):
    """An edge that only the built body has: between the end of one step and the side of another."""
    at = {"kind": "principal", "plane": "XY"}
    beside = {
        "kind": "datum",
        "id": "beside",
        "name": "Beside",
        "how": {"by": "offset", "plane": {"kind": "principal", "plane": "XZ"}, "distance": -6},
    }
    axis = polyline((10, -20), (10, 20)).sketch().model_dump(mode="json")
    editor.open_document(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Block",
            "steps": [
                {
                    "kind": "sketch",
                    "id": "base",
                    "name": "Base",
                    "plane": at,
                    "sketch": rectangle(40, 20).sketch().model_dump(mode="json"),
                },
                {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "base"}, "length": 15},
                beside,
                {
                    "kind": "sketch",
                    "id": "axis",
                    "name": "Axis",
                    "plane": {"kind": "step", "step": "beside"},
                    "sketch": axis,
                },
                {
                    "kind": "sweep",
                    "id": "hole",
                    "name": "Hole",
                    "profile": {"quick": "round", "width": 8},
                    "path": {"step": "axis"},
                    "result": "cut",
                },
                {"kind": "sketch", "id": "target", "name": "Target", "plane": at, "sketch": {}},
            ],
        }
    )
    editor.select("target")
    editor.key("e")
    editor.key("Shift+J")
    expect(page.get_by_test_id("sources")).to_be_visible()
    editor.settle()
    editor.click(14, 6)
    (projection,) = drawn(editor, "target").projections
    assert (projection.what, projection.source) == ("edge", "hole")
    (rim,) = drawn(editor, "target").entities
    assert rim.radius == pytest.approx(4)
    editor.done()
    document = editor.document()
    step(document, "hole")["profile"]["width"] = 10
    editor.open_document(document)
    editor.select("target")
    editor.key("e")
    editor.settle()
    editor.key("l")  # what is drawn next is saved with the rim where it is now
    editor.click(4, 2)
    editor.click(16, 2)
    editor.key("Escape")
    editor.settle()
    assert drawn(editor, "target").entities[0].radius == pytest.approx(5)


def test_the_arrow_keys_move_a_point_under_its_constraints(editor: Editor, page: Page):
    start(editor, page)
    editor.key("l")
    editor.click(0, 0)
    editor.click(40, 0)
    editor.key("Escape")
    editor.key("v")
    editor.click(40, 0)
    editor.key("ArrowRight")
    editor.settle()
    editor.key("Shift+ArrowUp")  # held horizontal: it cannot
    editor.settle()
    end = max(coordinates(drawn(editor)).values(), key=lambda p: float(p[0]))
    assert end == pytest.approx([41, 0], abs=1e-3)  # the click was to a pixel
    editor.key("Control+z")
    editor.settle()
    end = max(coordinates(drawn(editor)).values(), key=lambda p: float(p[0]))
    assert end[0] == pytest.approx(40, abs=0.6)


def test_a_chain_goes_on_through_the_bare_origin_and_what_may_follow_is_offered(editor: Editor, page: Page):
    editor.new_part()
    for name in ("XY", "XZ", "YZ"):
        expect(page.get_by_text(name, exact=True)).to_be_visible()
    page.get_by_role("button", name="Draw a path seen from the front").click()
    expect(editor.canvas).to_be_visible()
    editor.settle()
    expect(page.get_by_label("Scale")).to_be_visible()
    editor.key("l")
    for x, y in ((-50, 0), (0, 0), (0, 40), (-50, 40), (-50, 0)):
        editor.click(x, y)
    expect(page.get_by_label("Where the pointer is")).to_have_text("-50, 0 mm")
    editor.click(20, 20)
    editor.key("Escape")
    editor.key("Escape")
    editor.done()
    (drawn,) = editor.document()["steps"]
    assert len(drawn["sketch"]["entities"]) == 4  # the chain ended where it had begun, so the last click begins another
    page.get_by_role("button", name="Quick section along the path").click()
    editor.wait_built()
    assert editor.document()["steps"][-1]["kind"] == "sweep"
