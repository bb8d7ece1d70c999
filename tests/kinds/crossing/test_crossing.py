"""Crossings of surfaces: complete, and on both by formulas that the tracing does not use."""

from __future__ import annotations

import math

import numpy as np
import pytest

from leadline.core.geometry.quick import round_section
from leadline.core.paths.nearest import nearest_station
from leadline.core.problems import Problem
from leadline.core.surfaces.crossing import crossings
from leadline.core.surfaces.sheet import sheets_of
from leadline.core.sweep.motion import Motion
from leadline.recipe.build import build
from tests.support.crossing_pairs import PAIRS, tube, wall
from tests.support.parts import XY, XZ, circle, curve, part, polyline, sketch
from tests.support.shapes import space_spline

OFF = 1e-5  # mm


@pytest.mark.parametrize("name", PAIRS)
def test_every_branch_is_found_and_lies_on_both_surfaces(name):
    first, second, count, closed = PAIRS[name]
    found = crossings(first.sheets, second.sheets)
    assert (len(found), sum(b.path.closed for b in found)) == (count, closed)
    assert [b.path.length for b in found] == sorted((b.path.length for b in found), reverse=True)
    for branch in found:
        points = branch.path.point(np.linspace(0, branch.path.length, 150))
        assert np.abs(first.off(points)).max() < OFF
        assert np.abs(second.off(points)).max() < OFF
        assert branch.off < OFF


def test_an_ellipse_and_a_helix_have_their_lengths():
    slant = PAIRS["a wall at a slant through a tube"]
    (ellipse,) = crossings(slant[0].sheets, slant[1].sheets)
    s = np.linspace(0, 2 * math.pi, 20001)
    around = np.hypot(10 * math.sqrt(2) * np.sin(s), 10 * np.cos(s))
    assert ellipse.path.length == pytest.approx(float(np.trapezoid(around, s)), rel=1e-6)
    first, second, _, _ = PAIRS["a helicoid in a tapered tube"]
    z = np.linspace(0, 100, 200001)
    r, rate, slope = 12 - 0.06 * z, 2 * math.pi * 5 / 100, -0.06
    exact = float(np.trapezoid(np.sqrt(1 + slope**2 + (r * rate) ** 2), z))
    assert [x.path.length for x in crossings(first.sheets, second.sheets)] == pytest.approx([exact, exact], rel=1e-7)


def test_surfaces_that_do_not_meet_are_said():
    with pytest.raises(Problem) as caught:
        crossings(tube((0, 0, 0), (50, 0, 0), 5).sheets, wall((0, 0, 20), (50, 0, 20), (0, 1, 0), 30).sheets)
    assert caught.value.message.code == "no-crossing"


def crossing(**more):
    steps = [
        sketch("lying", XZ, polyline((-30, 0), (30, 0))),
        {
            "kind": "sweep",
            "id": "pipe",
            "name": "Pipe",
            "path": {"step": "lying"},
            "profile": {"quick": "round", "width": 20},
        },
        sketch("foot", XY, circle(6)),
        {"kind": "extrude", "id": "post", "name": "Post", "profile": {"step": "foot"}, "length": 30, "back": 30},
        {
            "kind": "crossing",
            "id": "seam",
            "name": "Seam",
            "first": {"step": "pipe"},
            "second": {"step": "post"},
            **more,
        },
        {
            "kind": "sweep",
            "id": "bead",
            "name": "Bead",
            "path": {"step": "seam"},
            "profile": {"quick": "round", "width": 1},
        },
    ]
    return build(part({"format": "leadline-part", "version": 1, "name": "Tee", "units": "mm", "steps": steps}))


def test_a_crossing_is_a_path_like_any_other():
    result = crossing(branch=2)
    report = result.reports["seam"]
    assert report.figure.startswith("2 of 2, ")
    assert [b["closed"] for b in report.data["branches"]] == [True, True]
    bead = result.bodies[-1].body
    assert bead.volume() == pytest.approx(math.pi / 4 * report.data["path"]["length"], rel=1e-6)
    assert crossing(branch=3).reports["seam"].messages[0].code == "no-branch"
    assert crossing(second={"step": "post", "edge": "gone"}).reports["seam"].messages[0].code == "deleted-reference"


def laid(draw, along=None, plane=XY, **onto):
    steps = [
        sketch("lying", XZ, polyline((-60, 0), (60, 0))),
        {
            "kind": "sweep",
            "id": "pipe",
            "name": "Pipe",
            "path": {"step": "lying"},
            "profile": {"quick": "round", "width": 60},
        },
        sketch("mark", plane, draw),
        {
            "kind": "projected",
            "id": "laid",
            "name": "Laid",
            "path": {"step": "mark"},
            "onto": {"step": "pipe", **onto},
            "along": along,
        },
    ]
    products = {}
    result = build(
        part({"format": "leadline-part", "version": 1, "name": "Laid", "units": "mm", "steps": steps}),
        products=products,
    )
    return result.reports["laid"], products["laid"].path if "laid" in products else None


def test_a_path_is_laid_onto_a_pipe_along_a_direction_and_at_the_nearest_place():
    up = {"by": "axis", "axis": "Z"}
    s = np.linspace(0, 1, 200)
    report, path = laid(circle(12), up)
    assert report.state == "fresh"
    p = path.point(s * path.length)
    assert np.hypot(p[:, 0], p[:, 1]) == pytest.approx(12, abs=1e-5)  # seen along Z it is the circle still
    assert np.hypot(p[:, 1], p[:, 2]) == pytest.approx(30, abs=1e-5)
    assert path.closed
    assert p[:, 2].min() > 0
    _, path = laid(polyline((-20, 5), (20, 15)), None)
    p = path.point(s * path.length)
    assert np.hypot(p[:, 1], p[:, 2]) == pytest.approx(30, abs=1e-5)
    assert p[:, 1] == pytest.approx(30, abs=1e-5)  # from the pipe's middle plane the nearest places are at its side
    report, path = laid(polyline((-20, -15), (20, 15)), None)
    assert path is None
    assert report.messages[0].code == "torn"  # where it comes through the axis


def test_where_a_path_misses_the_surface_is_said():
    report, path = laid(polyline((-20, 0), (20, 45)), {"by": "axis", "axis": "Z"})
    assert path is None
    message = report.messages[0]
    assert message.code == "off-surface"
    assert message.place["station"] > math.hypot(26.7, 30) - 5  # where y passes 30


# -- off the sides, and surfaces that were extruded -------------------------------------------------


@pytest.mark.parametrize("off", [4.0, -3.0])
def test_a_surface_off_a_tube_is_that_of_the_wider_or_narrower_tube(off):
    axis, other = ((-60, 0, 0), (60, 0, 0)), tube((0, -60, 2), (5, 60, 2), 5)
    plain = tube(*axis, 10)
    found = crossings(sheets_of(plain.motion, plain.regions, off=off), other.sheets)
    wider = tube(*axis, 10 + off)
    same = crossings(wider.sheets, other.sheets)
    assert [b.path.length for b in found] == pytest.approx([b.path.length for b in same], rel=1e-8)
    for branch in found:
        p = branch.path.point(np.linspace(0, branch.path.length, 60))
        assert np.abs(wider.off(p)).max() < 1e-6
        assert np.abs(other.off(p)).max() < 1e-6


def test_off_a_bent_sweep_every_point_is_as_far_off_it():
    path = space_spline()
    sides = sheets_of(Motion(path), [round_section(12)], off=3)
    (branch, *_) = crossings(sides, wall((90, -80, 20), (90, 80, 20), (0, 0, 1), 120).sheets)
    for p in branch.path.point(np.linspace(0, branch.path.length, 25)):
        foot = path.point(np.array([nearest_station(path, p)]))[0]
        assert np.linalg.norm(p - foot) == pytest.approx(9, abs=1e-5)


def test_off_too_far_inside_is_refused():
    report = crossing(first={"step": "pipe", "off": -30}).reports["seam"]
    assert report.messages[0].code == "offset-folds"
    assert report.messages[0].place["field"] == "first"


def test_an_open_curve_is_extruded_to_a_surface_that_others_cross():
    wave = curve((-30, 5), (0, -5), (30, 5))
    sheet = {
        "kind": "extrude",
        "id": "sheet",
        "name": "Sheet",
        "profile": {"step": "wave"},
        "length": 40,
        "back": 20,
        "surface": True,
    }
    steps = [
        sketch("wave", XY, wave),
        sheet,
        sketch("ring", XZ, circle(8)),
        {"kind": "extrude", "id": "rod", "name": "Rod", "profile": {"step": "ring"}, "length": 30, "back": 30},
        {"kind": "crossing", "id": "rim", "name": "Rim", "first": {"step": "sheet"}, "second": {"step": "rod"}},
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Wave", "units": "mm", "steps": steps}))
    skin = next(b.body for b in result.bodies if b.step == "sheet")
    assert skin.sheet
    curve_length = float(
        np.linalg.norm(np.diff(np.array(result.reports["wave"].data["curves"]["s"]), axis=0), axis=1).sum()
    )
    assert skin.area() == pytest.approx(60 * curve_length, rel=1e-3)
    rim = result.reports["rim"].data
    assert [b["closed"] for b in rim["branches"]] == [True]
    on = np.array(rim["path"]["points"])
    assert np.hypot(on[:, 0], on[:, 2]) == pytest.approx(np.full(len(on), 8), abs=1e-3)
    added = build(
        part(
            {
                "format": "leadline-part",
                "version": 1,
                "name": "Wave",
                "units": "mm",
                "steps": [*steps[2:4], steps[0], {**sheet, "result": "add"}],
            }
        )
    )
    assert added.reports["sheet"].messages[0].code == "surface-alone"


@pytest.mark.parametrize("times", [0.1, 0.7, 1.0, 1.5, 4, 10])
def test_the_nearest_place_on_a_rod_is_found_from_any_distance(times):
    """The foot of a point off a cylinder lies on the line to its axis, in closed form."""
    radius, far = 20.0, 20.0 * (1 + times)

    def points(a, b):
        return [{"id": k, "at": dict(zip("xyz", p, strict=True)) | {"by": "place"}} for k, p in (("a", a), ("b", b))]

    result = build(
        part(
            {
                "format": "leadline-part",
                "version": 1,
                "name": "P",
                "steps": [
                    {
                        "kind": "route",
                        "id": "axis",
                        "name": "Axis",
                        "points": points((-100, 0, 0), (100, 0, 0)),
                        "radius": 0,
                    },
                    {
                        "kind": "sweep",
                        "id": "rod",
                        "name": "Rod",
                        "path": {"step": "axis"},
                        "profile": {"quick": "round", "width": 2 * radius},
                    },
                    {
                        "kind": "route",
                        "id": "line",
                        "name": "Line",
                        "points": points((-50, -15, far), (50, 22, far)),
                        "radius": 0,
                    },
                    {
                        "kind": "projected",
                        "id": "laid",
                        "name": "Laid",
                        "path": {"step": "line"},
                        "onto": {"step": "rod"},
                        "along": None,
                    },
                ],
            }
        ),
        quick=True,
        products=(products := {}),
    )
    assert result.reports["laid"].state == "fresh", result.reports["laid"].messages
    laid = products["laid"].path
    found = laid.point(np.linspace(0, laid.length, 300))
    assert np.hypot(found[:, 1], found[:, 2]) == pytest.approx(np.full(300, radius), abs=2e-6)
    angle = np.arctan2(found[:, 1], found[:, 2])
    assert far * np.tan(angle) == pytest.approx(-15 + 37 * (found[:, 0] + 50) / 100, abs=1e-4)
