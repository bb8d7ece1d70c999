"""Surfaces made thick: closed forms, walls measured at many places, refusals with ways out."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from leadline.core.clearance.shape import Shape
from leadline.core.geometry.plane import Plane
from leadline.core.problems import Problem
from leadline.core.solids.tessellate import tessellate
from leadline.core.solids.thickening import between, moved_skin
from leadline.core.surfaces.offset import Offset
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, circle, curve, demo, part, polyline, sketch
from tests.support.shapes import Draw

SIDES = {"front": (0.0, 1.0), "back": (-1.0, 0.0), "both": (-0.5, 0.5)}


def document(*steps, **thick):
    return {
        "format": "leadline-part",
        "version": 1,
        "name": "Thick",
        "units": "mm",
        "values": [],
        "steps": [
            *steps,
            {"kind": "thickened", "id": "thick", "name": "Wall", "surface": steps[-1]["id"], "wall": 2, **thick},
        ],
    }


def extruded(draw, length):
    return [
        sketch("line", XY, draw),
        {
            "kind": "extrude",
            "id": "sheet",
            "name": "Sheet",
            "profile": {"step": "line"},
            "length": length,
            "surface": True,
        },
    ]


def swept(path, profile, **how):
    return [
        sketch("path", XZ, path),
        {"kind": "plane", "id": "plane", "name": "Plane", "path": {"step": "path"}},
        sketch("profile", {"kind": "step", "step": "plane"}, profile),
        {
            "kind": "sweep",
            "id": "sheet",
            "name": "Sheet",
            "path": {"step": "path"},
            "profile": {"step": "profile"},
            "surface": True,
            **how,
        },
    ]


def bend(radius, angle):
    path = Draw()
    path.point("c", 0, radius)
    path.point("a", 0, 0)
    path.point("b", radius * math.sin(angle), radius * (1 - math.cos(angle)))
    path.arc("e1", "c", "a", "b")
    return path


def made(doc):
    result = build(part(doc))
    report = result.reports["thick"]
    assert report.state == "fresh", report.messages
    bodies = [b.body for b in result.bodies if b.step == "thick"]
    assert all(b.valid() for b in bodies)
    return bodies, report


def refusal(doc):
    report = build(part(doc)).reports["thick"]
    assert report.state == "failed"
    return report.messages[-1]


@pytest.mark.parametrize("seed", range(12))
def test_a_creased_plate_has_the_area_of_its_offset_outline(seed):
    """Of a plate along a polyline, moved by h, each bend of t (rad, to the left) takes h² tan(t/2) of the area on its
    inner side.
    """
    rng = np.random.default_rng(seed)
    turns = rng.uniform(-1.9, 1.9, rng.integers(1, 4))
    lengths = rng.uniform(30, 60, len(turns) + 1)
    headings = np.concatenate([[0.0], np.cumsum(turns)])
    points = np.vstack(
        [[0, 0], np.cumsum(lengths[:, None] * np.column_stack([np.cos(headings), np.sin(headings)]), axis=0)]
    )
    side, wall, height = ("front", "back", "both")[seed % 3], rng.uniform(0.5, 3), rng.uniform(5, 20)
    (body,), _ = made(document(*extruded(polyline(*points), height), wall=wall, side=side))
    low, high = (share * wall for share in SIDES[side])
    area = sum(
        (h * lengths.sum() + h * h * np.tan(turns / 2).sum()) * sign for h, sign in ((high, 1), (low, -1))
    )  # in front is on the right
    assert body.volume() == pytest.approx(area * height, rel=1e-6)


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize(("radius", "length"), [(10, 30), (3.3, 8)])
def test_a_round_tube(side, radius, length):
    (body,), report = made(document(*extruded(circle(radius), length), wall=1.5, side=side))
    low, high = (radius + 1.5 * share for share in SIDES[side])
    assert body.volume() == pytest.approx(math.pi * (high**2 - low**2) * length, rel=1e-6)
    assert report.data["walls"]["least"] == pytest.approx(1.5, abs=1e-5)


@pytest.mark.parametrize("side", SIDES)
def test_a_bent_tube_by_pappus(side):
    (body,), _ = made(document(*swept(bend(60, 2.1), circle(8)), wall=1, side=side))
    low, high = (8 + share for share in SIDES[side])
    assert body.volume() == pytest.approx(math.pi * (high**2 - low**2) * 60 * 2.1, rel=1e-6)


def test_a_ring_without_rims_has_an_inside():
    """A tube all round: its wall stands between two closed shells."""
    round_path = circle(40)
    (body,), _ = made(document(*swept(round_path, circle(8)), wall=2, side="back"))
    assert body.volume() == pytest.approx(math.pi * (8**2 - 6**2) * 2 * math.pi * 40, rel=1e-6)


@pytest.mark.parametrize("profile", ["rectangle", "hexagon"])
def test_a_ring_that_waves_is_thick_over_its_seam(profile):
    """Creases run over the joints of the path's splines, and over its seam, where they bend more and less."""
    wave = {
        "kind": "curve",
        "id": "path",
        "name": "Path",
        "shape": {
            "by": "formula",
            "plane": XY,
            "x": "30*cos(t)",
            "y": "22*sin(t)",
            "z": "5*sin(2*t)",
            "first": 0,
            "last": 360,
        },
    }
    ring = {
        "kind": "sweep",
        "id": "ring",
        "name": "Ring",
        "path": {"step": "path"},
        "profile": {"quick": profile, "width": 9, "height": 6},
        "surface": True,
        "twist": 1,
    }
    (body,), report = made(document(wave, ring, wall=1.2, side="back"))
    mesh = tessellate(body, 0.012, 0.3)
    kind = np.array([n.split("/")[1] for n in mesh.names])[mesh.face]
    away = Shape(mesh.points, mesh.triangles[kind == "front"]).nearest(
        mesh.points[np.unique(mesh.triangles[kind == "back"])]
    )[0]
    assert away.min() > 1.2 - 0.013  # places of one side are exact, the other is a mesh
    assert away.max() < 1.2 + 0.013
    assert report.data["walls"]["least"] == pytest.approx(1.2, abs=1e-3)


def test_a_mitred_trough_of_a_section_with_corners():
    """Where a creased section meets at a mitre, each offset side is a prism up to the plane that halves the corner."""
    path = polyline((0, 0), (80, 0), (80, 60))
    section = polyline((-10, 0), (-10, -6), (10, -6), (10, 0))
    (body,), _ = made(document(*swept(path, section, corners="mitre"), wall=1.5, side="both"))
    inner, outer = ((20 - 2 * h) * (6 - h) for h in (0.75, -0.75))
    thick = (
        outer - inner
    )  # the section's area; its middle is on the path's own plane, across which the mitre takes and gives alike
    middle = (outer * -(6 + 0.75) / 2 - inner * -(6 - 0.75) / 2) / thick
    lengths = {140 + 2 * k * middle for k in (-1, 1)}  # by the side of the path on which the section lies
    lengths |= {140.0}
    assert any(body.volume() == pytest.approx(thick * length, rel=1e-6) for length in lengths)


def test_a_wall_by_a_table():
    """On a cylinder the normal is square to the axis, so that the volume is the integral of the rings."""
    points = [{"at": 0, "value": 1}, {"at": "50%", "value": 3}, {"at": 40, "value": 2}]
    (body,), report = made(
        document(*extruded(circle(10), 40), wall={"by": "table", "points": points, "smooth": False}, side="front")
    )
    s = np.linspace(0, 40, 400001)
    w = np.interp(s, [0, 20, 40], [1, 3, 2])
    assert body.volume() == pytest.approx(float(np.trapezoid(math.pi * ((10 + w) ** 2 - 100), s)), rel=1e-6)
    assert report.data["walls"]["most"] < 3.0 + 1e-6
    along = report.data["along"]
    assert np.interp(along["station"], [0, 20, 40], [1, 3, 2]) == pytest.approx(along["wall"], abs=1e-4)
    assert {0.0, 20.0, 40.0} <= set(along["station"])


@pytest.mark.parametrize("side", SIDES)
def test_the_hood_has_its_wall_everywhere(side):
    """A surface with creases that vanish at its throat: thousands of places on one side, each as far as asked from the
    other.
    """
    doc = demo("funnel-hood").model_dump(mode="json")
    next(s for s in doc["steps"] if s["kind"] == "thickened").update(id="thick", side=side, wall=1.7)
    (body,), report = made(doc)
    mesh = tessellate(body, 0.02)
    kind = np.array([n.split("/")[1] for n in mesh.names])[mesh.face]
    to = Shape(mesh.points, mesh.triangles[kind == "back"])
    places = mesh.points[np.unique(mesh.triangles[kind == "front"])]
    away = to.nearest(places)[0]
    assert len(places) > 1000
    assert away.min() > 1.7 - 0.021  # places of one side are exact, the other is a mesh
    assert np.median(away) == pytest.approx(1.7, abs=0.01)
    assert report.data["walls"]["least"] == pytest.approx(1.7, abs=1e-5)


def test_thick_surfaces_are_added_and_cut():
    block = [
        sketch("base", XY, polyline((-30, -30), (30, -30), (30, 30), (-30, 30), closed=True)),
        {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "base"}, "length": 10},
    ]
    result = build(part(document(*block, *extruded(circle(10), 10), wall=2, side="front", result="cut")))
    assert sum(b.body.volume() for b in result.bodies if not b.body.sheet) == pytest.approx(
        36000 - math.pi * 44 * 10, rel=1e-6
    )


def test_what_is_no_surface_is_refused():
    rod = extruded(circle(10), 10)
    rod[-1]["surface"] = False
    assert refusal(document(*rod)).code == "no-surface"
    assert refusal(document(*extruded(circle(10), 10), wall=0)).code == "bad-size"


@pytest.mark.parametrize("radius", [4.0, 7.5])
def test_a_wall_thicker_than_its_bend_says_the_thickest(radius):
    """Inside of a round tube there is room for its radius."""
    doc = document(*extruded(circle(radius), 10), wall=radius + 2, side="back")
    told = refusal(doc)
    assert told.code == "offset-folds"
    doc["steps"][-1] |= told.remedies[0].change
    (body,), _ = made(doc)
    assert body.volume() == pytest.approx(math.pi * radius**2 * 10, rel=1e-3)


def test_a_wall_that_runs_into_itself_is_refused():
    trough = polyline((0, 0), (40, 0), (40, 6), (0, 6))
    assert refusal(document(*extruded(trough, 10), wall=7, side="back")).code == "wall-meets-itself"
    made(document(*extruded(trough, 10), wall=7, side="front"))


def test_a_surface_that_no_spline_follows_is_refused(monkeypatch):
    """With places enough that does not come about in what can be drawn; so there are few here."""
    monkeypatch.setattr("leadline.core.surfaces.offset.MOST", 8)
    assert refusal(document(*extruded(curve((0, 0), (30, 12), (60, 0)), 10), wall=1)).code == "offset-rough"


def test_a_crease_that_is_too_sharp_is_refused():
    blade = polyline((0, 0), (40, 0), (0, 2))
    assert refusal(document(*extruded(blade, 10), wall=1, side="front")).code == "offset-crease"


def test_a_surface_that_ends_in_a_point_is_refused():
    """It has no normal there."""
    cone = {
        "kind": "loft",
        "id": "cone",
        "name": "Cone",
        "surface": True,
        "sections": [
            {"by": "quick", "profile": {"quick": "round", "width": 20}, "plane": XY},
            {"by": "point", "point": {"step": "top", "point": "p1"}},
        ],
    }
    assert refusal(document(sketch("top", XZ, polyline((0, 0), (0, 30))), cone)).code == "no-normal"


def test_skins_that_do_not_close_are_refused():
    offsets = [_offset(h) for h in (0.0, 1.0)]
    one, other = (moved_skin(o, "ring") for o in offsets)
    assert between(one, other, "Ring", "ring").volume() == pytest.approx(math.pi * (36 - 25) * 20, rel=1e-6)
    with pytest.raises(Problem) as told:
        between(replace(one, borders={}), other, "Ring", "ring")
    assert told.value.message.code == "no-thick"


def _offset(height):
    """A tube of radius 5 and length 20, moved outward."""
    products = {}
    build(part(document(*extruded(circle(5), 20))), quick=True, products=products)
    sheet = products["sheet"]
    return Offset(sheet.motion, sheet.regions[0], lambda s: np.full(len(s), height))


def test_a_step_that_cuts_leaves_surfaces_as_they_are():
    """Other steps too: a surface that is there is neither cut nor in the way."""
    sheet = extruded(circle(10), 10)
    block = [
        sketch("base", XY, polyline((-30, -30), (30, -30), (30, 30), (-30, 30), closed=True)),
        {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "base"}, "length": 10, "result": "add"},
    ]
    hole = [
        sketch("hole", XY, circle(5)),
        {"kind": "extrude", "id": "cut", "name": "Cut", "profile": {"step": "hole"}, "length": 10, "result": "cut"},
    ]
    result = build(part(document(*sheet, *block, *hole)))
    assert result.reports["cut"].state == "fresh"
    assert [b.body.sheet for b in result.bodies].count(True) == 1
    assert sum(b.body.volume() for b in result.bodies if not b.body.sheet) == pytest.approx(
        36000 - math.pi * 250, rel=1e-6
    )


def test_sides_that_run_along_a_plane_do_not_end_at_it():
    products = {}
    build(part(document(*extruded(circle(5), 20))), quick=True, products=products)
    sheet = products["sheet"]
    beside = Plane(np.array([50.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0]))
    with pytest.raises(Problem) as told:
        Offset(sheet.motion, sheet.regions[0], lambda s: np.full(len(s), 1.0), ends=(None, beside)).fitted()
    assert told.value.message.code == "offset-end"
