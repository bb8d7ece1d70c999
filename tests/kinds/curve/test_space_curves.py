"""Curves in space: arcs, ellipses, formulas, and smooth routes with directions and curvatures; against closed forms and
quadrature.
"""

from __future__ import annotations

import itertools
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.special import ellipe

from leadline.core.geometry.plane import PRINCIPAL
from leadline.core.paths.fair import Passing, fair_through
from leadline.core.paths.formula import through_formula
from leadline.core.paths.path import Path
from leadline.core.paths.rounds import round_about, through_three
from leadline.core.paths.route import smooth_through
from leadline.core.problems import Problem
from leadline.core.sketch.splines import chord_knots
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, part

PLACES = st.tuples(*[st.floats(-200, 200)] * 3)


def at(x: float, y: float, z: float) -> dict[str, Any]:
    return {"by": "place", "x": x, "y": y, "z": z}


def built(shape: dict[str, Any], *more: dict[str, Any], **document: Any) -> tuple[Any, dict[str, Any]]:
    steps = [{"kind": "curve", "id": "curve", "name": "Curve", "shape": shape}, *more]
    result = build(
        part({"format": "leadline-part", "version": 1, "name": "Curve", "units": "mm", "steps": steps, **document}),
        products=(products := {}),
    )
    return result, products


def path_of(shape: dict[str, Any], **document: Any) -> Path:
    result, products = built(shape, **document)
    assert result.reports["curve"].state == "fresh", result.reports["curve"].messages
    return products["curve"].path


def tube(diameter: float) -> dict[str, Any]:
    return {
        "kind": "sweep",
        "id": "tube",
        "name": "Tube",
        "path": {"step": "curve"},
        "profile": {"quick": "round", "width": diameter},
    }


def volume_of(shape: dict[str, Any], diameter: float) -> tuple[float, float]:
    """The volume of a round tube along a curve, and the length of the curve."""
    result, products = built(shape, tube(diameter))
    assert result.reports["tube"].state == "fresh", result.reports["tube"].messages
    return result.bodies[0].body.volume(), products["curve"].path.length


def code_of(make) -> str:
    with pytest.raises(Problem) as caught:
        make()
    return caught.value.message.code


# -- arcs and ellipses ------------------------------------------------------------------------------


@settings(max_examples=40, deadline=None)
@given(PLACES, PLACES, PLACES, st.booleans())
def test_an_arc_goes_through_its_three_points_in_order(a, b, c, whole):
    P = np.array([a, b, c])
    sides = np.linalg.norm(P - np.roll(P, 1, axis=0), axis=1)
    area = np.linalg.norm(np.cross(P[1] - P[0], P[2] - P[0])) / 2
    assume(sides.min() > 1 and area > 1e-2 * sides.max() ** 2)
    path = through_three(P[0], P[1], P[2], whole)
    radius = float(np.prod(sides) / (4 * area))  # of a triangle's circumcircle
    turn = (
        2 * math.pi if whole else sum(2 * np.arctan2(side / 2, _apothem(side, radius, far)) for side, far in _halves(P))
    )
    assert path.length == pytest.approx(radius * turn, rel=1e-9)
    s = np.linspace(0, path.length, 20001)
    points = path.point(s)
    nearest = [int(np.linalg.norm(points - p, axis=1).argmin()) for p in P]
    assert np.linalg.norm(points[nearest] - P, axis=1).max() < path.length / 10000
    assert nearest[0] in (0, len(s) - 1)
    assert nearest[1] < nearest[2] or whole
    assert 1 / np.linalg.norm(path.curvature(s), axis=1) == pytest.approx(radius)


def _halves(P):
    """Each chord of the arc with whether the third point lies within the chord's shorter arc, seen by its angle
    there.
    """
    a, b, c = P
    for p, q, third in ((a, b, c), (b, c, a)):
        corner = np.arccos(
            np.clip((p - third) @ (q - third) / np.linalg.norm(p - third) / np.linalg.norm(q - third), -1, 1)
        )
        yield float(np.linalg.norm(q - p)), corner > math.pi / 2


def _apothem(side, radius, far):
    return (-1 if far else 1) * math.sqrt(max(radius**2 - side**2 / 4, 0.0))


@settings(max_examples=40, deadline=None)
@given(st.floats(5, 80), st.floats(5, 80), st.floats(-400, 400), st.floats(5, 359), st.booleans())
def test_an_elliptic_arc_runs_between_its_angles(wide, high, start, sweep, clockwise):
    turn = -sweep if clockwise else sweep
    path = round_about(PRINCIPAL["XY"], (wide, high), math.radians(start), math.radians(turn))
    ends = path.point(np.array([0.0, path.length]))
    for end, angle in zip(ends, (start, start + turn), strict=True):
        out = np.array([math.cos(math.radians(angle)), math.sin(math.radians(angle)), 0])
        assert end / np.linalg.norm(end) == pytest.approx(out, abs=1e-9)
    points = path.point(np.linspace(0, path.length, 500))
    assert (points[:, 0] / wide) ** 2 + (points[:, 1] / high) ** 2 == pytest.approx(1)

    def pace(a):  # of the polar form r(a)
        c, s = math.cos(a), math.sin(a)
        r = wide * high / math.hypot(high * c, wide * s)
        return math.hypot(r, r**3 * (wide**2 - high**2) * c * s / (wide * high) ** 2)

    first, last = sorted((math.radians(start), math.radians(start + turn)))
    length = quad(
        pace,
        first,
        last,
        points=[k * math.pi / 2 for k in range(-10, 12) if first < k * math.pi / 2 < last] or None,
        epsabs=1e-9,
        limit=200,
    )[0]
    assert path.length == pytest.approx(length, rel=1e-8)


@pytest.mark.parametrize(
    ("shape", "length"),
    [
        ({"by": "three", "start": at(40, 0, 5), "via": at(0, 40, 5), "end": at(-40, 0, 5)}, 40 * math.pi),
        (
            {"by": "three", "start": at(40, 0, 5), "via": at(0, 40, 5), "end": at(-40, 0, 5), "whole": True},
            80 * math.pi,
        ),
        ({"by": "round", "plane": XZ, "radius": 30}, 60 * math.pi),
        ({"by": "round", "plane": XZ, "radius": 30, "start_angle": 20, "sweep": -90}, 15 * math.pi),
        ({"by": "round", "plane": XY, "radius": 50, "other": 30}, 4 * 50 * ellipe(1 - (30 / 50) ** 2)),
        (
            {"by": "formula", "plane": XY, "x": "20*cos(t)", "y": "20*sin(t)", "z": "t/12", "last": 1080},
            3 * math.hypot(40 * math.pi, 30),
        ),
        (
            {
                "by": "formula",
                "plane": XY,
                "x": "(40 + 12*cos(3*t))*cos(2*t)",
                "y": "(40 + 12*cos(3*t))*sin(2*t)",
                "z": "12*sin(3*t)",
                "last": 360,
            },
            None,
        ),
    ],
)
def test_tubes_have_the_volume_of_their_section_times_the_length(shape, length):
    """Pappus for a section with its middle on the path, open or closed, a knot about a torus as well."""
    volume, along = volume_of(shape, 6)
    if length is not None:
        assert along == pytest.approx(length, rel=1e-9)
    assert volume == pytest.approx(9 * math.pi * along, rel=1e-6)


@pytest.mark.parametrize(
    ("make", "code"),
    [
        (lambda: through_three(*np.array([[0, 0, 0], [1, 1, 1], [2, 2, 2]])), "no-arc"),
        (lambda: through_three(*np.array([[0, 0, 0], [0, 0, 0], [2, 2, 2]])), "no-arc"),
        (lambda: round_about(PRINCIPAL["XY"], (0, 3), 0, 1), "bad-size"),
        (lambda: round_about(PRINCIPAL["XY"], (3, 3), 0, 0), "bad-sweep"),
        (lambda: round_about(PRINCIPAL["XY"], (3, 3), 0, 7), "bad-sweep"),
    ],
)
def test_arcs_that_cannot_be_are_refused(make, code):
    assert code_of(make) == code


# -- by formula -------------------------------------------------------------------------------------


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(-40, 40), min_size=12, max_size=12), st.floats(-1, 1), st.floats(0.3, 2))
def test_a_formula_is_followed_with_its_length_and_direction(numbers, first, span):
    c = np.array(numbers).reshape(3, 4) + np.array([[60.0, 0, 0, 0], [0, 0, 0, 0], [0, 0, 0, 0]])
    texts = [f"({a:.17g})*t + ({b:.17g})*t^3 + ({d:.17g})*sin(90*t) + ({e:.17g})*cos(200*t)" for a, b, d, e in c]

    def slope(t):
        angles = math.radians(90), math.radians(200)
        return c @ np.array([1, 3 * t**2, angles[0] * math.cos(angles[0] * t), -angles[1] * math.sin(angles[1] * t)])

    grid = np.linspace(first, first + span, 200)
    assume(min(np.linalg.norm(slope(t)) for t in grid) > 1)
    path = path_of(
        {
            "by": "formula",
            "plane": XY,
            "x": texts[0],
            "y": texts[1],
            "z": texts[2],
            "first": first,
            "last": first + span,
        }
    )
    length = quad(lambda t: float(np.linalg.norm(slope(t))), first, first + span, epsabs=1e-9, limit=200)[0]
    assert path.length == pytest.approx(length, rel=1e-8)
    ends = path.tangent(np.array([0.0, path.length]))
    for found, t in zip(ends, (first, first + span), strict=True):
        assert found == pytest.approx(slope(t) / np.linalg.norm(slope(t)), abs=1e-5)


def test_a_formula_that_comes_back_closes_smoothly_and_one_with_a_corner_there_says_so():
    ring = path_of({"by": "formula", "plane": XZ, "x": "30*cos(t)", "y": "20*sin(t)", "z": "5*cos(2*t)", "last": 360})
    assert ring.closed
    assert [j.kind for j in ring.joints] == ["smooth"]
    drop = {"by": "formula", "plane": XY, "x": "30*sin(t)", "y": "20*sin(2*t)", "z": 0, "last": 180}
    result, products = built(drop)
    assert products["curve"].path.closed
    assert [m.code for m in result.reports["curve"].messages] == ["corner"]


def test_a_formula_takes_units_named_values_and_measured_lengths():
    plain = path_of({"by": "formula", "plane": XY, "x": "25.4*t", "y": "10*t^2", "z": 0})
    inch = path_of(
        {"by": "formula", "plane": XY, "x": "t*1 in", "y": "rise*t^2", "z": 0},
        values=[{"name": "rise", "value": "1 cm"}],
    )
    assert inch.length == pytest.approx(plain.length, rel=1e-12)
    first = {
        "kind": "curve",
        "id": "first",
        "name": "First",
        "shape": {"by": "round", "plane": XY, "radius": 10, "sweep": 180},
    }
    steps = [
        first,
        {
            "kind": "curve",
            "id": "curve",
            "name": "Curve",
            "shape": {"by": "formula", "plane": XY, "x": "length(First)*t", "y": 0, "z": 0},
        },
    ]
    build(
        part({"format": "leadline-part", "version": 1, "name": "Curve", "units": "mm", "steps": steps}),
        products=(products := {}),
    )
    assert products["curve"].path.length == pytest.approx(10 * math.pi)


FORMULA = {"by": "formula", "plane": XY, "x": "100*t", "y": 0, "z": 0}


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"y": "20*abs(t - 0.3)"}, "rough-formula"),
        ({"y": "5*floor(3.3*t)"}, "rough-formula"),
        ({"y": "sqrt(t)*10"}, "rough-formula"),
        ({"y": "2*sin(360*9000*t)"}, "rough-formula"),
        ({"x": "t^2*50", "y": "t^3*50", "first": -1}, "stands-still"),
        ({"x": "50*t^2"}, "stands-still"),
        ({"x": "30*cos(t)", "last": 360}, "stands-still"),
        ({"x": 7}, "no-length"),
        ({"y": "1/(t - 0.5)"}, "division"),
        ({"y": "1 deg*t"}, "wrong-unit"),
        ({"y": "sqrt(t - 0.5)"}, "bad-root"),
        ({"y": "wall*t"}, "unknown-name"),
        ({"y": "t.real"}, "not-allowed"),
        ({"x": "10^9*t"}, "too-far"),
        ({"y": "(t + 1"}, "unreadable"),
        ({"last": 0}, "bad-size"),
        ({"last": "t"}, "unknown-name"),
        ({"y": "e"}, "unknown-name"),
    ],
)
def test_formulas_that_give_no_smooth_curve_are_refused(change, code):
    result, _ = built({**FORMULA, **change})
    assert [m.code for m in result.reports["curve"].messages] == [code]
    assert result.reports["curve"].messages[0].way_out


@pytest.mark.parametrize("place", [0.5, 0.25, 0.75, 0.125, 1 / 3, 0.1, 0.99, 0.6180339])
def test_a_corner_is_found_wherever_it_stands(place):
    result, _ = built({**FORMULA, "y": f"20*abs(t - {place:.17g})"})
    (message,) = result.reports["curve"].messages
    assert message.code == "rough-formula"
    assert float(message.text.split("t = ")[1].split()[0]) == pytest.approx(place, abs=1e-3)


@pytest.mark.parametrize("waves", [16, 63, 64, 100, 128, 193, 256])
def test_waves_do_not_hide_between_the_steps(waves):
    """A sine that is nought at every even step is still seen: its length is that of the wave, by quadrature of one
    period.
    """
    path = path_of({**FORMULA, "y": f"0.5*sin(360*{waves}*t)"})
    w = 2 * math.pi * waves
    length = (
        waves * quad(lambda t: math.hypot(100, 0.5 * w * math.cos(w * t)), 0, 1 / waves, epsabs=1e-10, limit=200)[0]
    )
    assert path.length == pytest.approx(length, rel=1e-6)


# -- smooth routes with directions and curvatures -----------------------------------------------------


def zigzag(rng: np.random.Generator, n: int) -> np.ndarray:
    return rng.normal(size=(n, 3)) * 20 + np.arange(n)[:, None] * np.array([60.0, 0, 0])


@pytest.mark.parametrize("seed", range(12))
def test_given_directions_and_curvatures_are_kept_and_the_bending_stays_even(seed):
    rng = np.random.default_rng(seed)
    n, closed = int(rng.integers(3, 9)), bool(seed % 2)
    P = zigzag(rng, n)
    if closed:
        angles = np.sort(rng.uniform(0, 0.5, n) + np.arange(n)) * 2 * math.pi / n
        P = np.stack([80 * np.cos(angles), 60 * np.sin(angles), rng.normal(size=n) * 15], axis=1)
    plain = smooth_through(P, closed)
    knots = chord_knots(np.vstack([P, P[:1]]) if closed else P)
    u = np.array(knots[:n])
    ahead = plain.pieces[0].curve(u, 1)
    ways, bends = {}, {}
    for i in rng.permutation(n)[: max(1, n // 2)]:
        way = ahead[i] / np.linalg.norm(ahead[i]) + 0.4 * rng.normal(size=3)
        ways[i] = way / np.linalg.norm(way)
        side = np.cross(ways[i], rng.normal(size=3))
        bends[i] = side / np.linalg.norm(side) / rng.uniform(15, 90)
    kept = {i: Passing(ways[i], bends[i] if i % 2 else None) for i in ways}
    path = smooth_through(P, closed, kept)
    piece = path.pieces[0]
    s = piece.breaks()[:n]
    assert path.point(s) == pytest.approx(P, abs=1e-7)
    for i, passing in kept.items():
        assert path.tangent(s[[i]])[0] == pytest.approx(passing.way, abs=1e-7)
        if passing.bend is not None:
            assert path.curvature(s[[i]])[0] == pytest.approx(passing.bend, abs=1e-8)
    hair = 1e-7 * path.length
    inner = s if closed else s[1:-1]
    before, after = (path.curvature((inner + h) % path.length) for h in (-hair, hair))
    assert np.abs(before - after).max() < 1e-4
    if closed:
        assert [j.kind for j in path.joints] == ["smooth"]


@pytest.mark.parametrize("seed", range(6))
def test_a_direction_that_the_curve_has_changes_nothing_and_any_other_costs_bending(seed):
    P = zigzag(np.random.default_rng(seed), 6)
    u = np.array(chord_knots(P))
    plain = fair_through(u, P, {})
    x = np.linspace(0, u[-1], 801)
    assert plain(x) == pytest.approx(smooth_through(P, False).pieces[0].curve(x), abs=1e-9)
    own = plain(u[2], 1) / np.linalg.norm(plain(u[2], 1))
    assert fair_through(u, P, {2: Passing(own)})(x) == pytest.approx(plain(x), abs=1e-9)
    other = own + np.array([0, 0.3, 0.2])
    turned = fair_through(u, P, {2: Passing(other / np.linalg.norm(other))})
    assert energy(turned, u) > energy(plain, u) * (1 + 1e-6)


def energy(curve, u) -> float:
    x, w = np.polynomial.legendre.leggauss(8)
    return sum(
        float(((curve((a + b) / 2 + (b - a) / 2 * x, 2) ** 2).sum(axis=1) * w).sum()) * (b - a) / 2
        for a, b in itertools.pairwise(u)
    )


@pytest.mark.parametrize(("n", "off"), [(6, 0.1), (12, 2e-3), (24, 1e-4)])
def test_with_the_directions_and_curvatures_of_a_circle_it_is_the_circle(n, off):
    a = np.arange(n) * 2 * math.pi / n
    arms = np.stack([np.cos(a), np.sin(a), 0 * a], axis=1)
    along = np.stack([-np.sin(a), np.cos(a), 0 * a], axis=1)
    path = smooth_through(50 * arms, True, {i: Passing(along[i], -arms[i] / 50) for i in range(n)})
    radii = np.linalg.norm(path.point(np.linspace(0, path.length, 2000)), axis=1)
    assert np.abs(radii - 50).max() < off
    assert path.length == pytest.approx(100 * math.pi, rel=off / 50)


def smooth_route(**points: dict[str, Any]) -> dict[str, Any]:
    places = [(0, 0, 0), (80, 30, 0), (160, 0, 40)]
    listed = [{"id": f"q{i + 1}", "at": at(*p), **points.get(f"q{i + 1}", {})} for i, p in enumerate(places)]
    return {"kind": "route", "id": "curve", "name": "Route", "points": listed, "radius": 10, "shape": "smooth"}


def route(**changes: Any) -> tuple[Any, dict[str, Any]]:
    step = {**smooth_route(**changes.pop("at", {})), **changes}
    result = build(
        part({"format": "leadline-part", "version": 1, "name": "Route", "units": "mm", "steps": [step]}),
        products=(products := {}),
    )
    return result, products


def test_a_route_keeps_what_its_points_give_its_length_held_as_well():
    given = {
        "q1": {"way": {"x": 0, "y": 2, "z": 0}},
        "q2": {"way": {"x": 1, "y": 0, "z": 0}, "curving": {"radius": "25 mm", "towards": {"x": 0.3, "y": -1, "z": 0}}},
    }
    for held in (None, {"length": 260, "point": "q3", "along": None}):
        result, products = route(at=given, held=held)
        assert result.reports["curve"].state == "fresh", result.reports["curve"].messages
        path = products["curve"].path
        s = np.array([0.0, result.reports["curve"].data["route"]["runs"][0]["length"]])
        assert path.tangent(s) == pytest.approx(np.array([[0, 1, 0], [1, 0, 0]]), abs=1e-9)
        assert path.curvature(s)[1] == pytest.approx([0, -1 / 25, 0], abs=1e-9)
        assert path.point(s)[1] == pytest.approx([80, 30, 0], abs=1e-6)
        if held is not None:
            assert path.length == pytest.approx(260, abs=1e-6)


def test_a_start_may_be_square_to_the_way_and_against_it():
    for way in ((0, 1, 0), (0, 0, -1), (-1, 0.1, 0)):
        _, products = route(at={"q1": {"way": dict(zip("xyz", way, strict=True))}})
        path = products["curve"].path
        assert path.tangent(np.zeros(1))[0] == pytest.approx(np.array(way) / np.linalg.norm(way), abs=1e-9)
        assert path.length < 400


@pytest.mark.parametrize(
    ("given", "code"),
    [
        ({"way": {"x": 0, "y": 0, "z": 0}}, "no-direction"),
        ({"curving": {"radius": 20, "towards": {"x": 0, "y": 0, "z": 0}}}, "no-direction"),
        ({"curving": {"radius": 0, "towards": {"x": 0, "y": 1, "z": 0}}}, "bad-size"),
        (
            {"way": {"x": 1, "y": 0, "z": 0}, "curving": {"radius": 20, "towards": {"x": 1, "y": 0, "z": 0}}},
            "bends-along",
        ),
    ],
)
def test_directions_and_curvatures_that_cannot_be_are_refused(given, code):
    result, _ = route(at={"q2": given})
    assert [m.code for m in result.reports["curve"].messages] == [code]


def test_on_straight_runs_a_direction_has_no_effect_and_that_is_said():
    result, _ = route(at={"q2": {"way": {"x": 1, "y": 0, "z": 0}}}, shape="bends")
    assert [m.code for m in result.reports["curve"].messages] == ["no-smooth"]


def test_a_function_of_a_number_keeps_no_memory_of_the_last_one():
    path = through_formula(lambda t: np.array([50 * t, 10 * t * t, 0.0]), 2.0, 0.0, PRINCIPAL["XY"])
    assert path.point(np.array([0.0, path.length])) == pytest.approx(np.array([[100, 40, 0], [0, 0, 0]]))
