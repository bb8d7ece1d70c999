"""Lofts that are tangent to the sides of the bodies between which they go."""

from __future__ import annotations

import math
from types import SimpleNamespace

import numpy as np
import pytest
from scipy.interpolate import CubicHermiteSpline, make_interp_spline
from scipy.optimize import minimize_scalar

from leadline.core.geometry.edges import line_edge
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.quick import round_section
from leadline.core.geometry.section import Loop, Region
from leadline.core.loft.basis import with_columns
from leadline.core.loft.leads import Field, Height, Lead, Uneven, sides_at
from leadline.core.loft.lofted import Station
from leadline.core.loft.lofted import lofted as loft_through
from leadline.core.loft.shares import Course, End
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece, SplinePiece
from leadline.core.problems import Problem
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.mass import measure
from leadline.core.sweep.motion import Motion
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, circle, curve, part, polyline, sketch


def stub(name, height, outline, **how):
    """A short extrusion up from a height."""
    plane = {
        "kind": "datum",
        "id": f"{name}-level",
        "name": name,
        "how": {"by": "offset", "plane": XY, "distance": height},
    }
    return [
        plane,
        sketch(f"{name}-outline", {"kind": "step", "step": f"{name}-level"}, outline),
        {"kind": "extrude", "id": name, "name": name, "profile": {"step": f"{name}-outline"}, "length": 12, **how},
    ]


def face(name, end):
    return {"by": "drawn", "profile": {"step": name, "face": f"{name}/cap/{end}"}}


def lofted(*steps, sections, **how):
    loft = {"kind": "loft", "id": "loft", "name": "Loft", "sections": sections, **how}
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "Tangent",
        "units": "mm",
        "values": [],
        "steps": [*steps, loft],
    }
    products = {}
    result = build(part(document), products=products)
    return result, products


class EndOfSides:
    """A motion's sides at its first or last section, by the number of an edge with the share of it that is passed."""

    def __init__(self, swept, last):
        self.frames, self.edges = (
            swept.motion.ends.at_index(1 if last else 0),
            swept.motion.lifted(swept.regions[0].outer).edges,
        )
        self.shares = np.linspace(0, len(self.edges), 40 * len(self.edges) + 1)
        self.points = np.array([self.at(v)[0] for v in self.shares])

    def on_edge(self, v):
        """The section's own point and its derivative along the edge, each (1, k)."""
        k = min(int(v), len(self.edges) - 1)
        a, b = self.edges[k].domain
        return self.edges[k].point(a + (v - k) * (b - a))[None], self.edges[k].derivative(a + (v - k) * (b - a))[None]

    def at(self, v):
        """The point and the unit normal of the side, each (3,)."""
        p, d = self.on_edge(v)
        point, along = self.frames.each(p)
        n = np.cross(self.frames.across_each(p, d)[0], along[0])
        return point[0], n / np.linalg.norm(n)

    def normal_near(self, p):
        """The normal at the place that is nearest to a point on the outline."""

        def away(v):
            return float(((self.at(v)[0] - p) ** 2).sum())

        best = self.shares[int(((self.points - p) ** 2).sum(axis=1).argmin())]
        n, reach = len(self.edges), 0.03
        around = [
            (best - reach if best > 0 else n - reach, best if best > 0 else n),
            (best, best + reach) if best < n else (0, reach),
        ]  # either may be another edge
        tried = [minimize_scalar(away, bounds=b, method="bounded", options={"xatol": 1e-12}) for b in around]
        found = min(tried, key=lambda f: f.fun)
        assert found.fun < 1e-10
        return self.at(found.x)[1]


def assert_tangent(loft, loft_last, other, other_last):
    ours, theirs = EndOfSides(loft, loft_last), EndOfSides(other, other_last)
    for k in range(len(ours.edges)):
        for share in (0.21, 0.5, 0.83):
            point, normal = ours.at(k + share)
            assert abs(float(normal @ theirs.normal_near(point))) == pytest.approx(1, abs=1e-9)


def outline(rng):
    """A circle, a regular polygon or any one about the origin, whose sides lean each its own way with a taper."""
    if rng.random() < 0.3:
        return circle(float(rng.uniform(6, 12)))
    n, regular = int(rng.integers(3, 7)), rng.random() < 0.3
    angles = np.linspace(0, 2 * math.pi, n, endpoint=False) + (0 if regular else rng.uniform(-0.2, 0.2, n))
    r = rng.uniform(8, 12) * (np.ones(n) if regular else rng.uniform(0.7, 1, n))
    return polyline(*np.column_stack([r * np.cos(angles), r * np.sin(angles)]).tolist(), closed=True)


def tangent_between(low, high, strengths):
    """A loft between the bodies "low" and "high", which is tangent to both."""
    start, end = ({"how": "tangent", "strength": float(s)} for s in strengths)
    result, products = lofted(*low, *high, sections=[face("low", "end"), face("high", "start")], start=start, end=end)
    assert result.reports["loft"].state == "fresh", result.reports["loft"].messages
    loft, below, above = (products[n].planned for n in ("loft", "low", "high"))
    assert_tangent(loft, False, below, True)
    assert_tangent(loft, True, above, False)
    return result, products


@pytest.mark.parametrize("seed", range(12))
def test_between_two_stubs_both_sides_go_on_smoothly(seed):
    rng = np.random.default_rng(seed)
    low, high = (stub(n, h, outline(rng), taper=float(rng.uniform(-12, 12))) for n, h in (("low", 0), ("high", 50)))
    result, _ = tangent_between(low, high, rng.uniform(0.6, 1.4, 2))
    assert all(b.body.valid() for b in result.bodies)


@pytest.mark.parametrize("seed", range(5))
def test_from_the_end_of_a_bent_twisted_and_growing_sweep(seed):
    """Where the section turns and grows along the path, each point of its outline has a way of its own."""
    rng = np.random.default_rng(100 + seed)
    path = sketch("path", XZ, curve((0, 0), (12, 30), (float(rng.uniform(5, 30)), 60)))
    sweep = {
        "kind": "sweep",
        "id": "pipe",
        "name": "Pipe",
        "path": {"step": "path"},
        "profile": {"quick": "ellipse", "width": 14, "height": float(rng.uniform(8, 12))},
        "twist": float(rng.uniform(-0.3, 0.3)),
        "size": {"by": "ratio", "start": 1, "end": float(rng.uniform(0.7, 1.4))},
    }
    plane = {"kind": "plane", "id": "end", "name": "End", "path": {"step": "path"}, "place": "end"}
    beyond = {
        "kind": "datum",
        "id": "beyond",
        "name": "Beyond",
        "how": {"by": "offset", "plane": {"kind": "step", "step": "end"}, "distance": 40},
    }
    target = {
        "by": "quick",
        "profile": {"quick": "rectangle", "width": 16, "height": 12},
        "plane": {"kind": "step", "step": "beyond"},
    }
    result, products = lofted(
        path,
        sweep,
        plane,
        beyond,
        sections=[face("pipe", "end"), target],
        start={"how": "tangent"},
        end={"how": "square"},
    )
    assert result.reports["loft"].state == "fresh", result.reports["loft"].messages
    assert_tangent(products["loft"].planned, False, products["pipe"].planned, True)
    (body,) = [b.body for b in result.bodies if b.step == "loft"]
    assert body.valid()


def test_a_cone_goes_on_as_it_comes():
    """Sides that lean inward by 10° are met; between two cones of one lean, all is one cone, whose volume is known."""
    lean = math.tan(math.radians(-10))
    low = stub("low", 0, circle(20), taper=-10)
    high = stub("high", 40, circle(20 + 40 * lean), taper=-10)
    for strength in (0.5, 1.0, 1.5):
        ends = {"how": "tangent", "strength": strength}
        result, _ = lofted(*low, *high, sections=[face("low", "end"), face("high", "start")], start=ends, end=ends)
        a, b = 20 + 12 * lean, 20 + 40 * lean
        exact = math.pi * 28 / 3 * (a * a + a * b + b * b)
        volume = next(b.body.volume() for b in result.bodies if b.step == "loft")
        assert volume == pytest.approx(exact, rel=1e-6 if strength == 1.0 else 0.01)


def test_a_loft_is_tangent_to_a_loft():
    low = stub("low", 0, circle(12), taper=8)
    top = {"kind": "datum", "id": "top", "name": "Top", "how": {"by": "offset", "plane": XY, "distance": 80}}
    first = {
        "kind": "loft",
        "id": "neck",
        "name": "Neck",
        "sections": [
            face("low", "end"),
            {
                "by": "quick",
                "profile": {"quick": "rectangle", "width": 18, "height": 14},
                "plane": {"kind": "step", "step": "mid"},
            },
        ],
        "start": {"how": "tangent"},
        "end": {"how": "square"},
    }
    mid = {"kind": "datum", "id": "mid", "name": "Mid", "how": {"by": "offset", "plane": XY, "distance": 45}}
    last = {"by": "quick", "profile": {"quick": "round", "width": 20}, "plane": {"kind": "step", "step": "top"}}
    result, products = lofted(*low, mid, top, first, sections=[face("neck", "end"), last], start={"how": "tangent"})
    assert result.reports["loft"].state == "fresh", result.reports["loft"].messages
    assert_tangent(products["loft"].planned, False, products["neck"].planned, True)


def test_sides_that_are_not_smooth_along_an_edge_are_refused():
    class Kinked(Uneven):
        def at(self, p):
            return np.abs(p[:, :1] - 0.37) * np.array([[0.0, 1.0, 0.0]])

    edge = line_edge((0, 0), (1, 0), "e")
    assert with_columns(edge, lambda t: np.abs(t - 0.37)[:, None]) is None
    smooth = with_columns(edge, lambda t: np.sin(7 * t)[:, None])
    assert smooth.point(np.linspace(0, 1, 99))[:, 2] == pytest.approx(np.sin(7 * np.linspace(0, 1, 99)), abs=1e-7)
    motion = Motion(Path([LinePiece(np.zeros(3), 10 * np.eye(3)[2], "way")]))
    x, y, z = np.eye(3)
    piece = Kinked(motion.ends.at_index(0), edge, Field(z, np.zeros((3, 3))), z, Height())
    bound = Lead(
        Course(np.array([0.0, 10.0]), End(True), End()),
        False,
        np.zeros((3, 3)),
        np.zeros(3),
        np.array([x, y]),
        2,
        (piece,),
    )
    with pytest.raises(Problem, match="do not go on smoothly") as told:
        bound.widened(edge)
    assert (told.value.message.code, told.value.message.place["of"]) == ("tangent-uneven", "start")


def test_what_is_not_an_end_of_a_body_gives_nothing_to_be_tangent_to():
    quick = [
        {"by": "quick", "profile": {"quick": "round", "width": 20 - 5 * i}, "plane": p}
        for i, p in enumerate((XY, {"kind": "step", "step": "up"}))
    ]
    up = {"kind": "datum", "id": "up", "name": "Up", "how": {"by": "offset", "plane": XY, "distance": 30}}
    result, _ = lofted(up, sections=quick, start={"how": "tangent"})
    told = result.reports["loft"].messages[-1]
    assert (told.code, told.place["field"]) == ("tangent-to-nothing", "start")
    result, _ = lofted(up, sections=quick, **told.remedies[0].change)
    assert result.reports["loft"].state == "fresh"


def test_the_far_face_of_a_body_leads_the_other_way():
    low = stub("low", 0, circle(12))
    up = {"kind": "datum", "id": "up", "name": "Up", "how": {"by": "offset", "plane": XY, "distance": 40}}
    target = {"by": "quick", "profile": {"quick": "round", "width": 20}, "plane": {"kind": "step", "step": "up"}}
    result, _ = lofted(*low, up, sections=[face("low", "start"), target], start={"how": "tangent"})
    told = result.reports["loft"].messages[-1]
    assert (told.code, told.place["field"]) == ("tangent-back", "start")


def neck(name, low, high, first, last):
    """A loft that ends as it comes, between two heights."""
    planes = [
        {"kind": "datum", "id": f"{name}-{i}", "name": name, "how": {"by": "offset", "plane": XY, "distance": h}}
        for i, h in enumerate((low, high))
    ]
    sections = [
        {"by": "quick", "profile": p, "plane": {"kind": "step", "step": f"{name}-{i}"}}
        for i, p in enumerate((first, last))
    ]
    return [*planes, {"kind": "loft", "id": name, "name": name, "sections": sections}]


def quick(rng):
    """A quick section of any sort."""
    sorts = (
        {"quick": "round", "width": 20},
        {"quick": "rectangle", "width": 18, "height": 14},
        {"quick": "slot", "width": 24, "height": 12},
        {"quick": "hexagon", "width": 17},
        {"quick": "ellipse", "width": 22, "height": 13},
    )
    return sorts[int(rng.integers(len(sorts)))]


@pytest.mark.parametrize("seed", range(10))
def test_lofts_that_end_as_they_come_are_gone_on_from(seed):
    """The sides of such a loft follow no affine field: each point of its outline leads its own way."""
    rng = np.random.default_rng(200 + seed)
    low, high = neck("low", 0, 30, quick(rng), quick(rng)), neck("high", 75, 110, quick(rng), quick(rng))
    result, products = tangent_between(low, high, rng.uniform(0.6, 1.3, 2))
    loft = products["loft"].planned
    (body,) = [b.body for b in result.bodies if b.step == "loft"]
    assert body.valid()
    assert body.volume() == pytest.approx(measure(loft.motion, loft.regions).volume, rel=1e-5)
    for name, (last, own_last) in {
        "low": (True, False),
        "high": (False, True),
    }.items():  # the section itself stays what it is
        assert (
            np.abs(
                EndOfSides(loft, own_last).points[:, 2] - EndOfSides(products[name].planned, last).points[0, 2]
            ).max()
            < 1e-9
        )


@pytest.mark.parametrize("seed", range(8))
def test_edges_that_lean_each_its_own_way_are_gone_on_from_beside_rails(seed):
    """With rails that leave along the sides, the shape is tangent all round, and it reaches the rails."""
    rng = np.random.default_rng(300 + seed)
    _, products = lofted(*stub("low", 0, outline(rng), taper=float(rng.uniform(-12, 12))), sections=[])
    low = products["low"].planned
    ends = EndOfSides(low, True)
    middle, rails = np.array([2.0, 1.0, 52.0]), []
    for k in range(int(rng.integers(1, 3))):
        (place,), (way,) = ends.frames.each(ends.on_edge(len(ends.edges) * (0.13 + 0.5 * k))[0])
        angle = math.atan2(place[1], place[0])
        far = middle + np.array([9 * math.cos(angle), 9 * math.sin(angle), 0.0])
        bent = CubicHermiteSpline([0.0, 1.0], np.array([place, far]), np.array([40 * way / way[2], [0.0, 0.0, 30.0]]))
        at = np.linspace(0, 1, 9)
        rails.append(
            (
                f"rail {k}",
                Path(
                    [SplinePiece(make_interp_spline(at, bent(at), k=3, bc_type=([(1, bent(0, 1))], [(1, bent(1, 1))])))]
                ),
            )
        )
    cap = Region(Loop(tuple(ends.frames.outline(e) for e in ends.edges)))
    caps = [
        Station("low", ends.frames.plane(0), cap),
        Station("high", Plane(middle, np.eye(3)[0], np.eye(3)[1]), round_section(18)),
    ]
    made = loft_through(
        caps,
        End(True, float(rng.uniform(0.7, 1.3))),
        End(True),
        rails=rails,
        neighbours=(sides_at(low.motion, list(low.regions), True), None),
    )
    ours = SimpleNamespace(motion=made.motion, regions=[made.region])
    assert_tangent(ours, False, low, True)
    for (_, rail), line in zip(rails, made.lines[-len(rails) :], strict=True):
        on_rail = rail.point(np.linspace(0, rail.length, 40001))
        assert max(float(np.linalg.norm(on_rail - p, axis=1).min()) for p in line) < 1e-3
    (body,) = sweep_bodies(made.motion, [made.region], "loft", "Loft")
    assert body.valid()
