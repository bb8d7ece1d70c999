"""Hoses: shaped curves and elastic rods, against closed forms of the elastica."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_bvp
from scipy.interpolate import make_interp_spline
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation
from scipy.special import ellipe, ellipk

from leadline.core.paths.hose import Port, hanging, shaped, shortest, tightest
from leadline.core.problems import Problem
from leadline.kinds.hose.shortest import shortest_hose
from leadline.recipe.build import Memory, build
from tests.support.parts import XY, circle, part, sketch
from tests.support.shapes import X, Y, Z

NONE = np.empty((0, 3))


def port(point, outward, straight: float = 0.0) -> Port:
    return Port(np.array(point, dtype=float), np.asarray(outward, dtype=float), straight)


def test_a_shaped_hose_leaves_its_straights_without_bending_and_passes_its_points():
    start, end = port((0, 0, 0), X, 25), port((120, 60, 30), -Y, 15)
    path = shaped(start, end, np.array([[70, 10, 20.0]]))
    assert [p.kind for p in path.pieces] == ["line", "spline", "line"]
    assert [j.kind for j in path.joints] == ["smooth", "smooth"]
    s = np.linspace(0, path.length, 20001)
    p, bend = path.point(s), np.linalg.norm(path.curvature(s), axis=1)
    assert np.linalg.norm(p - [70, 10, 20], axis=1).min() < 0.01
    assert np.abs(np.diff(bend)).max() < 1e-3  # no jump anywhere
    assert p[0] == pytest.approx(start.point)
    assert p[-1] == pytest.approx(end.point)
    assert path.tangent(np.array([path.length]))[0] == pytest.approx(-end.outward)
    longer = shaped(start, end, NONE, (1.6, 1.0))
    assert longer.length > shaped(start, end, NONE).length


def test_a_load_under_which_no_rest_is_found_is_said():
    """Weight over stiffness of 1/8 mm³ on a hose of 1.4 m: it bends within a few mm of its ports, far less than a
    segment.
    """
    start, end = (
        port((0, 0, 0), np.array([0.46, -0.28, 0.84]) / 0.998),
        port((4, 159, 15), np.array([-0.76, -0.38, 0.53]) / 1.002),
    )
    with pytest.raises(Problem) as caught:
        hanging(start, end, 1356.0, np.array([0, 0, -0.12]))
    assert caught.value.message.code == "rod-unsettled"


def test_a_shaped_hose_passes_points_in_the_directions_that_are_given():
    start, end = port((0, 0, 0), X), port((200, 0, 0), -X)
    through = np.array([[60, 30, 0], [120, -10, 15.0]])
    way = np.array([0.6, 0, 0.8])
    path = shaped(start, end, through, ways={1: way})
    s = np.linspace(0, path.length, 20001)
    p = path.point(s)
    for point in through:
        assert np.linalg.norm(p - point, axis=1).min() < 0.01
    there = int(np.argmin(np.linalg.norm(p - through[1], axis=1)))
    assert path.tangent(s[there : there + 1])[0] == pytest.approx(way, abs=1e-3)
    assert np.abs(np.diff(np.linalg.norm(path.curvature(s), axis=1))).max() < 1e-3
    free = shaped(start, end, through)
    u = np.concatenate(
        [[0], np.cumsum(np.linalg.norm(np.diff(np.vstack([start.free, through, end.free]), axis=0), axis=1))]
    )
    natural = make_interp_spline(
        u, np.vstack([start.free, through, end.free]), k=5, bc_type=([(1, X), (2, 0 * X)], [(1, X), (2, 0 * X)])
    )
    t = np.linspace(0, u[-1], 50)
    assert free.pieces[0].curve(t) == pytest.approx(natural(t), abs=1e-9)


@pytest.mark.parametrize("angle", [0.6, 2.0, 4.0])
def test_clamps_on_a_circular_arc_give_that_arc(angle):
    radius = 80.0
    start = port((0, 0, 0), X)
    end = port((radius * math.sin(angle), radius * (1 - math.cos(angle)), 0), (-math.cos(angle), -math.sin(angle), 0))
    path = hanging(start, end, radius * angle)
    p = path.point(np.linspace(0, path.length, 60))
    assert np.linalg.norm(p - [0, radius, 0], axis=1) == pytest.approx(np.full(60, radius), rel=1e-4)
    assert path.length == pytest.approx(radius * angle, rel=1e-4)
    assert tightest(path)[0] == pytest.approx(radius, rel=5e-4)


@pytest.mark.parametrize("span", [0.95, 0.7, 0.4])
def test_a_buckled_rod_is_the_inflectional_elastica(span):
    """Clamped ends in line: span/L = 2 E/K - 1, deflection = k L / K, greatest curvature = 8 k K / L (Love, §263)."""
    length = 200.0
    k = brentq(lambda m: 2 * ellipe(m) / ellipk(m) - 1 - span, 1e-9, 0.999) ** 0.5
    K = float(ellipk(k * k))
    path = hanging(port((0, 0, 0), X), port((span * length, 0, 0), -X), length)
    p = path.point(np.linspace(0, path.length, 801))
    assert np.ptp(p[:, 2]) == pytest.approx(k * length / K, rel=1e-4)
    assert p[:, 2].min() < 0  # where nothing else says so, it bows down
    assert tightest(path)[0] == pytest.approx(length / (8 * k * K), rel=1e-3)
    assert path.length == pytest.approx(length, rel=1e-4)


@settings(max_examples=8, deadline=None)
@given(st.integers(0, 10**6))
def test_moving_the_ports_moves_the_rod_and_dragging_one_keeps_its_branch(seed):
    rng = np.random.default_rng(seed)
    turn, shift = Rotation.random(random_state=rng).as_matrix(), rng.normal(size=3) * 50
    start, end = port((0, 0, 0), X, 20), port((110, 45, 30), Y, 20)
    path = hanging(start, end, 260)
    moved = hanging(*(Port(turn @ p.point + shift, turn @ p.outward, p.straight) for p in (start, end)), 260)
    s = np.linspace(0, path.length, 40)
    assert moved.point(s) == pytest.approx(path.point(s) @ turn.T + shift, abs=2e-3)
    nudged = hanging(start, Port(end.point + rng.normal(size=3) * 0.2, end.outward, 20), 260)
    assert np.linalg.norm(nudged.point(s) - path.point(s), axis=1).max() < 3.0


def test_weight_pulls_a_long_hose_towards_the_catenary():
    """With little stiffness the sag between level ends is that of a hanging chain."""
    span, length = 400.0, 440.0
    chain = brentq(lambda a: 2 * a * math.sinh(span / 2 / a) - length, 50, 5000)
    sag = chain * (math.cosh(span / 2 / chain) - 1)
    slope = math.asinh(length / 2 / chain)
    down = np.array([math.cos(math.atan(math.sinh(slope))), 0, -math.sin(math.atan(math.sinh(slope)))])
    path = hanging(port((0, 0, 0), down), port((span, 0, 0), down * [-1, 1, 1]), length, 1e-3 * -Z)
    assert np.ptp(path.point(np.linspace(0, path.length, 401))[:, 2]) == pytest.approx(sag, rel=2e-3)


def test_the_shortest_hose_just_keeps_its_bend_radius():
    start, end = port((0, 0, 0), Z, 20), port((100, 0, 0), Z, 20)
    length = shortest(start, end, 35)
    assert length is not None
    assert tightest(hanging(start, end, length))[0] == pytest.approx(35, rel=1e-3)
    assert shortest(start, end, 1000) is None


# -- as a step ------------------------------------------------------------------------------------

HOSE = {
    "kind": "hose",
    "id": "hose",
    "name": "Hose",
    "start": {"at": {"by": "place", "x": 0, "y": 0, "z": 0}, "straight": 20},
    "end": {"at": {"by": "place", "x": 150, "y": 60, "z": 90, "dx": 0, "dy": 0, "dz": -2}, "straight": 20},
}


def built(*steps):
    return build(part({"format": "leadline-part", "version": 1, "name": "P", "steps": list(steps)}))


def test_a_hose_step_tells_its_length_slack_and_tightest_bend():
    body = {
        "kind": "sweep",
        "id": "body",
        "name": "Body",
        "path": {"step": "hose"},
        "profile": {"quick": "round", "width": 16},
        "wall": 2,
    }
    result = built(HOSE, body)
    report = result.reports["hose"]
    assert report.data["path"]["pieces"][0]["length"] == pytest.approx(20)
    (kept,) = result.bodies
    assert kept.body.volume() == pytest.approx(math.pi * (64 - 36) * report.data["path"]["length"], rel=1e-5)
    rod = built({**HOSE, "length": 320, "least_bend": 90}).reports["hose"]
    assert rod.data["path"]["length"] == pytest.approx(320, rel=1e-4)
    assert rod.data["hose"]["slack"] == pytest.approx(320 - 40 - math.dist((20, 0, 0), (150, 60, 70)), rel=1e-3)
    (tight,) = [m for m in rod.messages if m.level == "warning"]
    assert (tight.code, tight.place["field"]) == ("too-tight", "least_bend")
    hung = built({**HOSE, "length": 320, "weight": 8, "stiffness": 0.05}).reports["hose"]
    assert min(p[2] for p in hung.data["path"]["points"]) < min(p[2] for p in rod.data["path"]["points"])


def test_ports_stand_on_planes_and_sketch_points_and_turn_round():
    plan = sketch("plan", XY, circle(5, 80, 30))
    over = {"kind": "datum", "id": "over", "name": "Over", "how": {"by": "offset", "plane": XY, "distance": 90}}
    step = {
        **HOSE,
        "start": {"at": {"by": "sketch", "step": "plan", "point": "c"}, "straight": 10},
        "end": {"at": {"by": "plane", "plane": {"kind": "step", "step": "over"}}, "reverse": True},
    }
    report = built(plan, over, step).reports["hose"]
    assert report.uses == ["plan", "over"]
    first, last = report.data["hose"]["ports"]
    assert (first["point"], first["outward"]) == ([80, 30, 0], [0, 0, 1])
    assert (last["point"], last["outward"]) == ([0, 0, 90], [0, 0, -1])


def test_the_collar_of_a_fitting_is_found_and_asked_for():
    """A spigot that reaches 24 mm into the hose from its port, and a plate beside that is none of its business."""
    plan = sketch("plan", XY, circle(9, 40, 20))
    spigot = {
        "kind": "extrude",
        "id": "spigot",
        "name": "Spigot",
        "profile": {"step": "plan"},
        "length": 24,
        "back": 12,
    }
    plate = [
        sketch("far", XY, circle(30, 140, 20)),
        {"kind": "extrude", "id": "plate", "name": "Plate", "profile": {"step": "far"}, "length": 60},
    ]
    start = {"at": {"by": "sketch", "step": "plan", "point": "c"}, "straight": 10}
    short = built(plan, spigot, *plate, {**HOSE, "start": start}).reports["hose"]
    assert [p["collar"] for p in short.data["hose"]["ports"]] == [pytest.approx(24), None]
    (warning,) = [m for m in short.messages if m.code == "short-collar"]
    assert "24 mm into the hose" in warning.text
    assert warning.place["field"] == "start"
    assert built(plan, spigot, {**HOSE, "start": {**start, "straight": 24}}).reports["hose"].messages == []
    behind = built(plan, spigot, {**HOSE, "start": {**start, "reverse": True}}).reports["hose"]
    assert behind.data["hose"]["ports"][0]["collar"] == pytest.approx(12)


def test_the_shortest_hose_of_a_step_keeps_its_least_bend():
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "steps": [{**HOSE, "length": 400, "least_bend": 60}],
    }
    length = shortest_hose(part(document), "hose", Memory())
    kept = built({**HOSE, "length": length, "least_bend": 60}).reports["hose"]
    assert kept.data["path"]["tightest"] == pytest.approx(60, rel=1e-2)
    for patch, code in (({"least_bend": 0}, "no-least-bend"), ({"least_bend": 5000}, "no-length")):
        with pytest.raises(Problem) as caught:
            shortest_hose(part({**document, "steps": [{**HOSE, "length": 400, **patch}]}), "hose", Memory())
        assert caught.value.message.code == code


def test_a_hose_that_cannot_be_says_why():
    near = {"at": {"by": "place", "x": 30, "y": 0, "z": 0, "dx": -1}, "straight": 10}
    for patch, code in (
        ({"length": 60}, "hose-too-short"),
        ({"length": 9000}, "hose-too-long"),
        ({"end": {**near, "straight": -2}}, "bad-size"),
        ({"end": {**near, "at": {**near["at"], "dx": 0}}}, "no-direction"),
        ({"end": near}, "same-place"),
        ({"length": 300, "weight": 5, "stiffness": 0}, "bad-size"),
        ({"start": {**HOSE["start"], "pull": 0}}, "bad-size"),
        (
            {
                "points": [
                    {"id": "a", "at": {"by": "place", "x": 80, "y": 10, "z": 40}, "way": {"x": 0, "y": 0, "z": 0}}
                ]
            },
            "no-direction",
        ),
        ({"length": 300, "points": [{"id": "a", "at": {"by": "place", "x": 1, "y": 1, "z": 1}}]}, "rod-with-points"),
    ):
        report = built({**HOSE, **patch}).reports["hose"]
        assert report.state == "failed"
        assert report.messages[-1].code == code, patch
    with pytest.raises(Problem):
        shaped(port((0, 0, 0), X), port((0, 0, 0), X), NONE)


@pytest.mark.parametrize(("load", "share"), [(1e-8, 2e-4), (1e-7, 2e-4), (1e-6, 2e-4), (1e-5, 5e-4)])
def test_a_heavy_clamped_hose_bends_as_the_heavy_elastica_does(load, share):
    """Against SciPy's boundary value solver on θ'' = Fx sin θ - (Fy + q s) cos θ: the tightest bend, which is at a
    clamp.
    """
    length, span = 520.0, 400.0
    path = hanging(Port(np.zeros(3), X, 0.0), Port(span * X, -X, 0.0), length, -load * Z)
    s = np.linspace(0, length, 4001)
    t, p = path.tangent(s), path.point(s)
    theta = np.unwrap(np.arctan2(t[:, 2], t[:, 0]))
    kappa = np.gradient(theta, s)

    def slopes(at, y, force):
        return np.vstack(
            [y[1], force[0] * np.sin(y[0]) - (force[1] + load * at) * np.cos(y[0]), np.cos(y[0]), np.sin(y[0])]
        )

    def ends(a, b, _):
        return np.array([a[0], a[2], a[3], b[0], b[2] - span, b[3]])

    some = slice(None, None, 8)
    guess = np.vstack([theta, kappa, p[:, 0], p[:, 2]])[:, some]
    exact = solve_bvp(slopes, ends, s[some], guess, p=[load * 100, -load * length / 2], tol=1e-8, max_nodes=100_000)
    assert exact.success
    radius = 1 / np.abs(exact.sol(np.linspace(0, length, 40_001))[1]).max()
    assert tightest(path)[0] == pytest.approx(radius, rel=share)
