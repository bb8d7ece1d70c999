"""Copies along paths and paths made of others, each from an empty part and measured by an independent build."""

from __future__ import annotations

import math

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.support.carried import START, bend
from tests.support.editor import Editor
from tests.support.hands import begin, choose, draw, locker, measured, open_sketch, sketch_on
from tests.support.parts import circle, sketch, step


def put_on(page: Page, plane: str) -> None:
    page.get_by_role("combobox", name="Put on the path", exact=True).click()
    page.get_by_role("option", name=plane).click()


def test_interlocked_rings_along_a_curve_keep_clear_and_follow_their_pitch(editor: Editor, page: Page):
    """Job 7: one ring, two runs a quarter turn and half a spacing apart, one value for the pitch, instances in the
    files.
    """
    begin(editor, page, "front")
    draw(editor, "w", (0, 0), (6, 0), (0, 5))
    editor.done()
    editor.key("q")
    editor.field("Diameter", "2.5")
    editor.wait_built()
    sketch_on(editor, page, "front")
    draw(editor, "s", (-85, 60), (-25, 68), (30, 58), (90, 66), finish="Enter")
    editor.done()
    editor.key("l")
    editor.wait_built()
    page.get_by_text("By spacing", exact=True).click()
    editor.field("Spacing", "26")
    put_on(page, "YZ")
    page.get_by_role("button", name="Add a run").click()
    report, (row,) = measured(editor, "repeat1")
    copies = report.data["copies"]
    assert np.allclose(np.diff(copies["stations"]), 13)
    assert copies["runs"][:4] == [0, 1, 0, 1]
    turned = np.einsum(
        "nij,nij->n", row.places.turns[:-1], row.places.turns[1:]
    )  # 1 + 2 cos of the angle between neighbours
    assert np.degrees(np.arccos((turned - 1) / 2)) == pytest.approx(90, abs=12)  # and what the path bends by
    assert copies["least"] > 0.2
    links = len(copies["stations"])
    expect(page.get_by_role("img", name="copies along")).to_be_visible()
    editor.field("Spacing", "24")
    report, (row,) = measured(editor, "repeat1")
    assert len(report.data["copies"]["stations"]) > links
    assert row.body.valid()
    with page.expect_download() as saving:
        page.get_by_role("button", name="Save as").click()
        page.get_by_role("menuitem", name="STEP").click()
    text = saving.value.path().read_text()
    assert text.count("MANIFOLD_SOLID_BREP(") == 1
    assert text.count("NEXT_ASSEMBLY_USAGE_OCCURRENCE(") == len(report.data["copies"]["stations"])


def test_tines_stand_evenly_along_the_edge_of_a_slab_and_follow_it(editor: Editor, page: Page):
    """Job 1: a slab with a free edge, the edge projected into a sketch, a bead along it, one revolved tine repeated by
    arc length.
    """
    begin(editor, page, "top")
    draw(editor, "s", (-60, 10), (-20, 26), (20, 26), (60, 10), finish="Enter")
    draw(editor, "l", (-60, 10), (-60, -20), (60, -20), (60, 10))
    editor.done()
    editor.key("x")
    editor.field("Forward", "6")
    editor.wait_built()
    editor.select("sketch1")
    editor.key("b")
    editor.field("Distance", "6")
    editor.wait_built()
    open_sketch(editor, page, "Profile on the plane")
    editor.key("Shift+J")
    expect(page.get_by_test_id("sources")).to_be_visible()
    editor.click(-60, 10, px=(40, -22))
    (edge,) = step(editor.document(), "sketch2")["sketch"]["projections"]
    assert edge["source"] in ("extrude1", "sketch1")
    editor.key("v")
    editor.click(0, 28.1)
    editor.key("j")  # no longer construction: it can be swept along
    editor.done()
    editor.select("sketch2")
    editor.key("q")
    editor.field("Diameter", "3")
    page.get_by_text("Add", exact=True).click()
    _, (slab,) = measured(editor)
    assert slab.body.valid()
    sketch_on(editor, page, "front")
    draw(editor, "l", (0, 0), (6, 0), (0, 30), (0, 0))
    editor.done()
    editor.key("z")
    _, bodies = measured(editor, "revolve1")
    tine = math.pi * 36 * 30 / 3
    assert bodies[-1].body.volume() == pytest.approx(tine, rel=0.05)
    editor.key("l")
    put_on(page, "YZ")
    editor.field("Count", "9")
    report, (slab, tines) = measured(editor, "repeat1")
    stations, length = report.data["copies"]["stations"], report.data["copies"]["length"]
    assert np.allclose(np.diff(stations), length / 8)
    assert tines.places.shifts[:, 2] == pytest.approx(6)
    up = tines.places.turns @ np.array([0, 0, 1.0])
    assert np.allclose(up, [0, 0, 1], atol=1e-9)
    choose(page, "Orientation", "Held parallel")
    _, (_, tines) = measured(editor, "repeat1")
    assert np.allclose(tines.places.turns, np.eye(3))
    editor.select("sketch1")
    editor.key("e")
    expect(editor.canvas).to_be_visible()
    editor.key("v")
    editor.drag((-20, 26), (-20, 38))
    editor.done()
    report, (_, tines) = measured(editor, "repeat1")
    assert report.data["copies"]["length"] > length + 1
    assert tines.places.shifts[:, 1].max() > 30


def test_tines_are_refitted_to_one_slanted_plane(editor: Editor, page: Page):
    """Job 1: each copy is built anew at its place and ends on the same plane."""
    begin(editor, page, "front")
    draw(editor, "l", (-60, 0), (60, 0))
    editor.done()
    sketch_on(editor, page, "front")
    draw(editor, "l", (-70, 20), (70, 50))
    editor.done()
    locker(editor, page, "Plane about a line at an angle")
    editor.wait_built()
    sketch_on(editor, page, "front")
    draw(editor, "l", (-60, 0), (-60, 70))
    editor.done()
    editor.key("q")
    editor.field("Diameter", "4")
    page.get_by_role("button", name="Ends cut by planes…").click()
    page.get_by_role("combobox", name="Cut its end by", exact=True).click()
    page.get_by_role("option", name="Plane about a line").click()
    editor.wait_built()
    editor.key("l")
    choose(page, "Path", "Path")
    editor.field("Count", "5")
    page.get_by_text("Re-fitted", exact=True).click()
    _, tines = measured(editor, "repeat1")
    slope = 30 / 140
    heights = [20 + (x + 70) * slope for x in (-60, -30, 0, 30, 60)]
    assert sorted(t.body.volume() for t in tines) == pytest.approx([math.pi * 4 * h for h in heights], rel=0.02)


def test_a_flat_cable_follows_points_that_are_dragged_in_space(editor: Editor, page: Page):
    """Job 8: a smooth path, a slot section symmetric about it, ribs as context; points pulled in the stage, out of
    plane too.
    """
    editor.new_part()
    editor.key("t")
    editor.wait_built()
    page.get_by_text("Smooth curve", exact=True).click()
    for i, corner in enumerate([(0, 0, 0), (60, 10, 0), (120, -10, 0), (180, 0, 0)], 1):
        for axis, value in zip("xyz", corner, strict=True):
            editor.field(f"{axis} of point {i}", str(value))
    editor.wait_built()
    editor.key("q")
    choose(page, "Where the profile comes from", "Slot")
    editor.field("Width", "10")
    editor.field("Height", "1.4")
    choose(page, "Orientation", "Upright")
    report, (cable,) = measured(editor)
    section = 8.6 * 1.4 + math.pi * 0.7**2
    assert cable.body.volume() == pytest.approx(section * report.data["length"], rel=1e-6)
    before = report.data["length"]
    editor.select("route1")
    editor.key("1")
    editor.settle()
    editor.pull_in_stage(120 - 90, 0, 25, "drag point 3")
    point = step(editor.document(), "route1")["points"][2]["at"]
    assert [point[k] for k in "xyz"] == pytest.approx([120, -10, 25], abs=1.5)
    report, (cable,) = measured(editor)
    assert report.data["length"] > before + 3
    assert cable.body.valid()
    assert cable.body.volume() == pytest.approx(section * report.data["length"], rel=1e-6)
    editor.select("sweep1")
    page.get_by_role("button", name="More for Sweep").click()
    page.get_by_role("button", name="brass", exact=True).click()
    editor.key("Escape")
    recoloured, (same,) = measured(editor)
    assert editor.document()["colours"] == {"sweep1": "brass"}
    assert (same.key, recoloured.key) == (cable.key, report.key)
    page.get_by_role("button", name="How things are shown").click()
    with page.expect_response(lambda r: r.url.endswith("/fine")) as fine:
        page.get_by_role("menuitem", name="Drawn finely").click()
    assert fine.value.body().startswith(b"glTF")
    assert measured(editor)[1][0].key == cable.key


def test_a_path_beside_another_and_a_piece_of_it(editor: Editor, page: Page):
    begin(editor, page, "top")
    draw(editor, "l", (-60, 0), (60, 0))
    editor.done()
    editor.select("sketch1")
    editor.key("y")
    editor.field("Distance", "25")
    report, _ = measured(editor, "beside1")
    assert np.abs(np.array(report.data["path"]["points"])[:, 1]) == pytest.approx(25)
    locker(editor, page, "Piece of a path")
    editor.field("From", "20")
    editor.field("To", "90")
    report, _ = measured(editor, "piece1")
    assert report.data["path"]["length"] == pytest.approx(70)
    editor.field("To", "500")
    expect(editor.messages()).to_contain_text("is not on the path")


def test_the_seam_of_two_tubes_is_a_path_and_a_bead_runs_along_it(editor: Editor, page: Page):
    """Two pipes that cross: both branches are offered, the picked one is swept along."""
    begin(editor, page, "front")
    draw(editor, "l", (-60, 0), (60, 0))
    editor.done()
    editor.key("q")
    editor.field("Diameter", "30")
    editor.wait_built()
    sketch_on(editor, page, "front")
    draw(editor, "l", (0, -60), (0, 60))
    editor.done()
    editor.key("q")
    editor.field("Diameter", "18")
    editor.wait_built()
    editor.key("v")
    editor.wait_built()
    expect(page.get_by_text("They cross in 2 curves")).to_be_visible()
    page.get_by_role("combobox", name="Branch", exact=True).click()
    page.get_by_role("option", name="2:").click()
    report, _ = measured(editor, "crossing1")
    points = np.array(report.data["path"]["points"])
    assert np.hypot(points[:, 1], points[:, 2]) == pytest.approx(15, abs=1e-3)
    assert np.hypot(points[:, 0], points[:, 1]) == pytest.approx(9, abs=1e-3)
    editor.key("q")
    editor.field("Diameter", "2")
    _, bodies = measured(editor, "sweep3")
    assert bodies[-1].body.volume() == pytest.approx(math.pi * report.data["path"]["length"], rel=1e-5)


def test_a_ring_is_laid_onto_a_pipe(editor: Editor, page: Page):
    begin(editor, page, "top")
    draw(editor, "l", (-60, 0), (60, 0))
    editor.done()
    editor.key("q")
    editor.field("Diameter", "60")
    editor.wait_built()
    sketch_on(editor, page, "top")
    draw(editor, "c", (10, 0), (22, 0))
    editor.done()
    editor.key("d")
    report, _ = measured(editor, "projected1")
    points = np.array(report.data["path"]["points"])
    assert np.hypot(points[:, 1], points[:, 2]) == pytest.approx(30, abs=1e-3)
    assert np.hypot(points[:, 0] - 10, points[:, 1]) == pytest.approx(12, abs=1e-3)
    page.get_by_text("Nearest", exact=True).click()
    expect(editor.messages()).to_contain_text("the place on the surface jumps")


def test_a_drawing_is_carried_along_a_path_and_lofted_to(editor: Editor, page: Page):
    """A circle of 12 mm across the start of a half circle of 50 mm, carried to its middle: a quarter of a torus between
    them.
    """
    document = {"format": "leadline-part", "version": 1, "name": "Rings", "units": "mm"}
    ring = sketch("ring", {"kind": "step", "step": "start"}, circle(12))
    editor.open_document({**document, "steps": [bend(), START, ring]})
    editor.select("ring")
    editor.key("Shift+Y")
    editor.wait_built()
    carried, shown = editor.document()["steps"][-2:]
    assert (carried["how"]["by"], carried["how"]["at"], shown["same_as"]) == ("along", "50%", "ring")
    editor.key("Shift+L")
    editor.wait_built()
    page.get_by_role("combobox", name="Centreline").click()
    page.get_by_role("option", name="Way").click()
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(math.pi * 144 * math.pi * 50 / 2 / 1000, rel=1e-3)
    editor.select(shown["id"])
    page.get_by_role("button", name="Open sketch").click()  # that is the ring's
    expect(editor.canvas).to_be_visible()
    editor.settle()
    editor.done()
    editor.select("ring")
    page.get_by_text("as Ring").wait_for()
