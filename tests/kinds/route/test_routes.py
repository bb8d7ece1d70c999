"""Paths of their own: through points with bends, and wound about others; against closed forms and independent ways."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.laws import Even, Table
from leadline.core.geometry.plane import cross
from leadline.core.geometry.quick import slot_section
from leadline.core.geometry.section import Loop
from leadline.core.paths.even_angle import Advance, Advanced
from leadline.core.paths.formers import DrawnFormer, RoundFormer
from leadline.core.paths.held import own_direction, routed_length
from leadline.core.paths.joining import joined, reversed_path
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, HelixPiece
from leadline.core.paths.route import Route, smooth_through, through_points
from leadline.core.paths.wound import wound
from leadline.core.problems import Problem
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.mass import measure
from leadline.core.sweep.motion import Motion
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, YZ, circle, demo, part, polyline, sketch
from tests.support.shapes import X, arc, disc, full_circle, planar_spline, polygon, space_spline, straight

TURN = 2 * math.pi


def route(*points, radius: float = 10.0, closed: bool = False) -> Route:
    return through_points(np.array(points, dtype=float), [radius] * len(points), closed)


def refusal(make) -> Problem:
    with pytest.raises(Problem) as caught:
        make()
    return caught.value


# -- through points -------------------------------------------------------------------------------


def test_a_square_corner_takes_its_radius_off_both_runs():
    found = route((0, 0, 0), (100, 0, 0), (100, 80, 0), (100, 80, 60), radius=12)
    assert [r.straight for r in found.runs] == pytest.approx([88, 56, 48])
    assert found.path.length == pytest.approx(88 + 56 + 48 + 2 * 12 * math.pi / 2)
    assert [p.kind for p in found.path.pieces] == ["line", "arc", "line", "arc", "line"]
    assert [j.kind for j in found.path.joints] == ["tangent"] * 4
    assert found.bends[0].station == pytest.approx(88 + 6 * math.pi / 2)
    assert found.path.point(np.array([found.bends[0].station]))[0] == pytest.approx(
        [100 - 12 + 12 / math.sqrt(2), 12 - 12 / math.sqrt(2), 0]
    )


def test_a_closed_route_comes_back_and_a_point_in_a_run_bends_nothing():
    found = route((0, 0, 0), (60, 0, 0), (60, 60, 0), (0, 60, 0), radius=10, closed=True)
    assert found.path.closed
    assert found.path.length == pytest.approx(240 - 80 + TURN * 10)
    assert all(j.kind == "tangent" for j in found.path.joints)
    assert route((0, 0, 0), (20, 0, 0), (90, 0, 0)).idle == (1,)


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10**6))
def test_bends_touch_both_runs_wherever_the_points_are(seed):
    rng = np.random.default_rng(seed)
    points = np.cumsum(rng.uniform(5, 60, size=(6, 3)), axis=0)
    found = through_points(points, list(rng.uniform(0.5, 3.0, 6)))
    for joint in found.path.joints:
        a, b = found.path.point(np.array([joint.station - 1e-7, joint.station + 1e-7]))
        assert np.linalg.norm(b - a) < 1e-6
        assert joint.kind == "tangent"
    for bend, piece in zip(found.bends, [p for p in found.path.pieces if isinstance(p, ArcPiece)], strict=True):
        assert piece.sweep == pytest.approx(bend.turn)
        for k in (bend.point - 1, bend.point):  # the arc's circle touches the line of each run
            way = points[k + 1] - points[k]
            away = np.linalg.norm(cross(piece.center - points[k], way)) / np.linalg.norm(way)
            assert away == pytest.approx(piece.radius, rel=1e-9)


def test_routes_that_cannot_be_bent_say_which_point_and_by_how_much():
    assert refusal(lambda: route((0, 0, 0), (0, 0, 0), (5, 0, 0))).message.text == "Points 1 and 2 are the same."
    overlap = refusal(lambda: route((0, 0, 0), (50, 0, 0), (50, 30, 0), (0, 30, 0), radius=20)).message
    assert overlap.code == "bends-overlap"
    assert "point 2 to 3 is 30 mm long" in overlap.text
    assert "40 mm" in overlap.text
    assert "75%" in overlap.way_out
    assert refusal(lambda: route((0, 0, 0), (50, 0, 0), (0, 0, 0))).message.code == "turns-back"
    assert refusal(lambda: route((0, 0, 0), (50, 0, 0), (50, 9, 0), radius=-1)).message.place["of"] == "radius"
    assert refusal(lambda: route((0, 0, 0), (9, 0, 0), closed=True)).message.code == "few-points"


def test_points_and_ports_stand_on_earlier_paths_and_follow_them():
    def on(station, from_end=False):
        return {"by": "path", "path": {"step": "rail"}, "station": station, "from_end": from_end}

    def made(length, first=30):
        rail = sketch("rail", XZ, polyline((0, 0), (length, 0)))
        run = {
            "kind": "route",
            "id": "run",
            "name": "Run",
            "radius": 5,
            "points": [
                {"id": "a", "at": on(first)},
                {"id": "b", "at": {"by": "place", "x": 50, "y": 40, "z": 0}},
                {"id": "c", "at": on(10, True)},
            ],
        }
        hose = {
            "kind": "hose",
            "id": "hose",
            "name": "Hose",
            "start": {"at": on(0, True), "straight": 10},
            "end": {"at": {"by": "place", "x": 300, "y": 0, "z": 60, "dx": -1}},
        }
        return build(
            part({"format": "leadline-part", "version": 1, "name": "P", "units": "mm", "steps": [rail, run, hose]})
        ).reports

    for length in (100, 140):
        reports = made(length)
        points = np.array(reports["run"].data["route"]["points"])
        assert points[[0, 2]] == pytest.approx(np.array([[30, 0, 0], [length - 10, 0, 0]]))
        port = reports["hose"].data["hose"]["ports"][0]
        assert (port["point"], port["outward"]) == (pytest.approx([length, 0, 0]), pytest.approx([1, 0, 0]))
        assert reports["run"].uses == reports["hose"].uses == ["rail"]
    refused = made(100, 130)["run"].messages[0]
    assert (refused.code, refused.text) == ("off-path", "The station 130 mm of point 1 is not on the path.")


def held_route(points, **held):
    rows = [
        {"id": f"q{i}", "at": dict(zip(("by", "x", "y", "z"), ("place", *p), strict=True))}
        for i, p in enumerate(points)
    ]
    step = {"kind": "route", "id": "route", "name": "Route", "points": rows, "radius": 8, **held}
    products: dict = {}
    result = build(
        part({"format": "leadline-part", "version": 1, "name": "Route", "units": "mm", "steps": [step]}),
        products=products,
    )
    return result.reports["route"], products.get("route")


@settings(max_examples=40, deadline=None)
@given(
    seed=st.integers(0, 10**6),
    which=st.integers(0, 4),
    more=st.floats(0.9, 1.6),
    along=st.sampled_from([None, "X", "Y", "Z"]),
    shape=st.sampled_from(["bends", "smooth"]),
)
def test_a_held_length_is_kept_by_the_point_that_gives_way_alone(seed, which, more, along, shape):
    rng = np.random.default_rng(seed)
    points = np.cumsum(rng.uniform(30, 60, size=(5, 3)) * rng.choice([1, -1], size=(5, 3)), axis=0)
    free, _ = held_route(points, shape=shape)
    if free.state != "fresh":
        return
    length = free.data["path"]["length"] * more
    report, product = held_route(points, shape=shape, held={"length": length, "point": f"q{which}", "along": along})
    if report.state != "fresh":  # bends that no longer fit, or no place short enough: checked by looking along the line
        if report.messages[0].code == "length-unreachable":
            way = own_direction(points, which, False) if along is None else np.eye(3)["XYZ".index(along)]
            for t in np.linspace(-400, 400, 801):
                there = points.copy()
                there[which] += t * way
                assert (
                    routed_length(there, [8] * 5, False) if shape == "bends" else smooth_through(there, False).length
                ) > length - 1e-6
        return
    assert product.path.length == pytest.approx(length, abs=1e-7)
    moved = np.array(report.data["route"]["points"]) - points
    assert np.abs(np.delete(moved, which, axis=0)).max() < 1e-6
    if along is not None:
        assert np.abs(np.delete(moved[which], "XYZ".index(along))).max() < 1e-6


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10**6), st.booleans())
def test_the_length_that_is_solved_for_is_that_of_the_route(seed, closed):
    rng = np.random.default_rng(seed)
    points = (
        np.cumsum(rng.uniform(20, 60, size=(6, 3)), axis=0)
        if not closed
        else rng.uniform(60, 70, size=(6, 1))
        * np.stack([np.cos(np.arange(6)), np.sin(np.arange(6)), rng.uniform(-0.1, 0.1, 6)], axis=1)
    )
    radii = list(rng.uniform(0.5, 3.0, 6))
    assert routed_length(points, radii, closed) == pytest.approx(
        through_points(points, radii, closed).path.length, rel=1e-12
    )


def test_a_length_that_cannot_be_held_says_how_short_it_gets():
    corners = [(0, 0, 0), (100, 0, 0), (100, 80, 0)]
    report, _ = held_route(corners, held={"length": 100, "point": "q1"})
    assert report.messages[0].code == "length-unreachable"
    assert f"{math.hypot(100, 80):.4g} mm long at least; 100 mm are asked for" in report.messages[0].text
    report, product = held_route(corners, held={"length": 200, "point": "q2"})
    straight = 180 - 8 * (2 - math.pi / 2)
    assert product.path.point(np.array([product.path.length]))[0] == pytest.approx(
        [100, 80 + 200 - straight, 0], abs=1e-9
    )
    for held, said in (({"length": 0, "point": "q1"}, "cannot be held"), ({"length": 200, "point": "gone"}, "is gone")):
        assert said in held_route(corners, held=held)[0].messages[0].text
    assert (
        "along an axis"
        in held_route([(0, 0, 0), (50, 0, 0), (100, 0, 0)], held={"length": 120, "point": "q1"})[0].messages[0].way_out
    )


# -- joined ---------------------------------------------------------------------------------------


def test_loose_parts_are_put_in_order_and_turned_round():
    whole = route((0, 0, 0), (60, 0, 0), (60, 50, 0), (60, 50, 70), radius=12).path
    cuts = [0, 55, 90, whole.length]
    parts = [whole.between(a, b) for a, b in itertools.pairwise(cuts)]
    found = joined([reversed_path(parts[2]), parts[0], reversed_path(parts[1])], ["c", "a", "b"])
    assert [i for i, _ in found.order] == [0, 2, 1]
    path = reversed_path(found.path)
    s = np.linspace(0, whole.length, 50)
    assert path.length == pytest.approx(whole.length)
    assert path.point(s) == pytest.approx(whole.point(s), abs=1e-9)
    n = whole.start_normal()
    assert path.normal(s, n) == pytest.approx(whole.normal(s, n), abs=1e-9)


@pytest.mark.parametrize("make", [space_spline, planar_spline, lambda: coil(straight(60), 4)])
def test_a_path_turned_round_is_the_same_way_back(make):
    path = make()
    back = reversed_path(path)
    s = np.linspace(0, path.length, 40)
    assert back.point(s) == pytest.approx(path.point(path.length - s), abs=1e-12)
    assert back.tangent(s) == pytest.approx(-path.tangent(path.length - s), abs=1e-12)
    n = path.normal(np.array([path.length]))[0]
    assert back.normal(s, n) == pytest.approx(path.normal(path.length - s), abs=1e-8)
    assert back.pieces[0].breaks() == pytest.approx(path.length - path.pieces[-1].breaks()[::-1])


def test_gaps_are_closed_within_the_tolerance_or_said():
    a, b = route((0, 0, 0), (50, 0, 0)).path, route((50, 0.3, 0), (50, 40, 0)).path
    message = refusal(lambda: joined([a, b], ["plan", "rise"])).message
    assert message.text == "Between “plan” and “rise” there is a gap of 0.3 mm."
    found = joined([a, b], ["plan", "rise"], 0.5)
    assert found.path.length == pytest.approx(50 + 0.3 + 39.7)
    assert found.bridged == pytest.approx((0.3,))
    third = route((50, 0, 0), (50, 0, 9)).path
    assert refusal(lambda: joined([a, third, third], ["p", "q", "r"])).message.code == "branch"
    assert refusal(lambda: joined([full_circle(9)], ["ring"])).message.code == "part-closed"
    square = route((0, 0, 0), (50, 0, 0), (50, 50, 0), (0, 50, 0), (0, 0, 0), radius=0).path
    assert joined([square.between(0, 90), square.between(90, 200)], ["x", "y"]).path.closed


def test_sketches_on_crossing_planes_are_joined_into_one_path():
    plan, rise = sketch("plan", XZ, polyline((0, 0), (60, 0))), sketch("rise", YZ, polyline((0, 40), (0, 0)))
    step = {"kind": "joined", "id": "all", "name": "All", "parts": [{"step": "rise"}, {"step": "plan"}]}
    report = built(plan, rise, step).reports["all"]
    assert report.data["order"] == ["Rise", "Plan"]
    assert report.data["path"]["length"] == pytest.approx(100)
    (corner_note,) = report.messages
    assert (corner_note.code, corner_note.place["station"]) == ("corner", pytest.approx(40))


# -- wound ----------------------------------------------------------------------------------------


def coil(carrier: Path, turns: float, size: float | Even | Table = 5.0, **more) -> Path:
    law = size if not isinstance(size, float) else Even(size)
    return wound(
        carrier,
        carrier.start_normal(),
        Even(0.4, TURN * turns / carrier.length),
        law,
        more.get("former", RoundFormer()),
    )


def test_about_a_straight_line_it_is_the_helix():
    path = coil(straight(80), 6.5, 7.0)
    u = straight(80).start_normal() * math.cos(0.4) + cross(X, straight(80).start_normal()) * math.sin(0.4)
    same = HelixPiece(np.zeros(3), u, cross(X, u), 7.0, 80 / 6.5, 6.5)
    assert path.length == pytest.approx(same.length, rel=1e-12)
    s = np.linspace(0, path.length, 57)
    for method in ("point", "tangent", "curvature"):
        assert getattr(path, method)(s) == pytest.approx(getattr(same, method)(s), abs=1e-9)
    n = path.start_normal()
    assert path.normal(s, n) == pytest.approx(same.transport_normal(n, s), abs=1e-9)


def test_about_a_ring_it_lies_on_the_torus_and_closes():
    path = coil(full_circle(40), 9, 6.0)
    assert path.closed
    p = path.point(np.linspace(0, path.length, 301))
    out = np.hypot(p[:, 0], p[:, 1])
    assert np.hypot(out - 40, p[:, 2]) == pytest.approx(np.full(301, 6.0), abs=1e-9)


def even_coil(carrier: Path, turns: float, size: Even) -> Path:
    n, angle = carrier.start_normal(), Even(0.3, TURN * turns / carrier.length)
    advance = Advance(carrier, n, angle, size, RoundFormer())
    assert advance.value(np.array([carrier.length]))[0] == pytest.approx(carrier.length, abs=1e-9)
    return wound(carrier, n, Advanced(angle, advance), Advanced(size, advance), RoundFormer())


CARRIERS = {
    "spline": space_spline,
    "planar": planar_spline,
    "bent": lambda: route((0, 0, 0), (90, 0, 0), (90, 70, 0), (90, 70, 60), radius=25).path,
}


@pytest.mark.parametrize("name", ["spline", "planar"])
def test_it_stands_off_its_carrier_by_the_radius_law_and_its_slopes_are_its_own(name):
    carrier = CARRIERS[name]()
    path = coil(carrier, 11, Table([0, carrier.length / 2, carrier.length], [3, 6, 2], True))
    s = np.linspace(0.002, 0.998, 61) * path.length
    h = 1e-4
    steps = (path.point(s + h) - path.point(s - h)) / (2 * h)
    assert steps == pytest.approx(path.tangent(s), abs=2e-8)  # so stations are arc length, too
    assert (path.tangent(s + h) - path.tangent(s - h)) / (2 * h) == pytest.approx(path.curvature(s), abs=2e-6)
    dense = carrier.point(np.linspace(0, carrier.length, 200001))
    for p in path.point(s[::12]):  # an independent search for the foot on the carrier
        i = int(np.argmin(np.linalg.norm(dense - p, axis=1)))
        foot = carrier.length * i / 200000
        expected = float(Table([0, carrier.length / 2, carrier.length], [3, 6, 2], True).value(np.array([foot]))[0])
        assert np.linalg.norm(dense[i] - p) == pytest.approx(expected, abs=1e-4)


def test_frames_carried_along_a_coil_do_not_turn_about_it():
    path = coil(space_spline(), 7, 4.0)
    s, h = np.linspace(0.01, 0.99, 41) * path.length, 1e-3
    n = path.normal(s)
    slope = (path.normal(s + h) - path.normal(s - h)) / (2 * h)
    t = path.tangent(s)
    assert (slope * cross(t, n)).sum(axis=1) == pytest.approx(np.zeros(41), abs=1e-7)
    assert (n * t).sum(axis=1) == pytest.approx(np.zeros(41), abs=1e-9)


def test_on_a_former_it_lies_exactly_on_the_outline_all_along():
    outline = slot_section(40, 16).outer
    path = coil(straight(70), 5, 1.0, former=DrawnFormer(outline))
    p = path.point(np.linspace(0, path.length, 801))
    n = straight(70).start_normal()
    x, y = np.abs(p @ n), np.abs(p @ cross(X, n))
    across = np.hypot(np.maximum(x - 12, 0), y)  # the slot is all points 8 from its middle line
    assert across == pytest.approx(np.full(801, 8.0), abs=1e-9)
    with pytest.raises(Problem) as caught:
        DrawnFormer(Loop(tuple(e.mapped(np.eye(2), np.array([30.0, 0])) for e in outline.edges)))
    assert caught.value.message.code == "former-outside"
    hooked = polygon([(-20, -20), (20, -20), (20, 20), (12, 20), (18, -10), (-20, 20)])
    with pytest.raises(Problem) as caught:
        DrawnFormer(hooked.outer)
    assert caught.value.message.code == "former-behind"


def test_a_coil_that_reaches_its_axis_bends_centre_is_refused_there():
    message = refusal(lambda: coil(arc(20, 2.0), 5, 21.0)).message
    assert message.code == "coil-folds"
    assert "20 mm" in message.text
    assert (
        refusal(lambda: coil(route((0, 0, 0), (50, 0, 0), (50, 50, 0), radius=0).path, 3)).message.code
        == "carrier-corner"
    )


def test_where_a_bend_begins_turns_even_along_the_axis_give_a_corner_and_an_even_angle_none():
    carrier, size = CARRIERS["bent"](), Even(6.0)
    message = refusal(lambda: coil(carrier, 8, size)).message
    assert (message.code, message.place["station"]) == ("coil-kinks", pytest.approx(65.0, abs=100))
    path = even_coil(carrier, 8, size)
    s = np.linspace(0.001, 0.999, 400) * path.length
    h = 1e-5
    assert (path.point(s + h) - path.point(s - h)) / (2 * h) == pytest.approx(path.tangent(s), abs=1e-6)
    # the angle to the length lines of the tube, from the nearest place on the carrier, is the same everywhere
    dense = np.linspace(0, carrier.length, 100001)
    at = carrier.point(dense)
    lines = [carrier.tangent(dense[[int(np.argmin(np.linalg.norm(at - p, axis=1)))]])[0] for p in path.point(s[::20])]
    along = (path.tangent(s[::20]) * np.array(lines)).sum(axis=1)
    assert np.ptp(along) < 1e-4


def test_wire_swept_along_a_coil_has_area_times_length():
    path = even_coil(CARRIERS["bent"](), 8, Even(6.0, -0.01))
    motion = Motion(path)
    found = measure(motion, [disc(0.8)])
    assert found.volume == pytest.approx(math.pi * 0.64 * path.length, rel=1e-12)
    (body,) = sweep_bodies(motion, [disc(0.8)], "s", "S")
    assert body.valid()
    assert body.volume() == pytest.approx(found.volume, rel=1e-6)


# -- as steps -------------------------------------------------------------------------------------

TUBE = {
    "kind": "sweep",
    "id": "tube",
    "name": "Tube",
    "path": {"step": "route"},
    "profile": {"quick": "round", "width": 14},
    "wall": 1.5,
}


def corner(name: str, x: float, y: float, z: float, **more):
    return {"id": name, "at": {"by": "place", "x": x, "y": y, "z": z}, **more}


def built(*steps):
    return build(part({"format": "leadline-part", "version": 1, "name": "P", "steps": list(steps)}))


RUN = {
    "kind": "route",
    "id": "route",
    "name": "Route",
    "radius": 28,
    "points": [
        corner("a", 0, 0, 0),
        corner("b", 120, 0, 0),
        corner("c", 120, 90, 0, radius=35),
        corner("d", 120, 90, 150),
    ],
}


def test_a_tube_through_points_is_exact_and_hollow():
    result = built(RUN, TUBE)
    length = 92 + (90 - 63) + 115 + (28 + 35) * math.pi / 2
    assert result.reports["route"].data["path"]["length"] == pytest.approx(length)
    assert result.reports["route"].data["route"]["bent"] == pytest.approx(63 * math.pi / 2)
    (kept,) = result.bodies
    assert kept.body.volume() == pytest.approx(math.pi * (49 - 5.5**2) * length, rel=1e-9)
    wide = {**TUBE, "profile": {"quick": "round", "width": 60}, "wall": None}
    assert next(m.code for m in built(RUN, wide).reports["tube"].messages if m.level == "error") == "fold"


def test_points_follow_their_sketch_and_short_straights_are_said():
    drawn = sketch("plan", XZ, polyline((0, 0), (80, 0), (80, 60)))
    points = [{"id": f"q{i}", "at": {"by": "sketch", "step": "plan", "point": f"p{i}"}} for i in range(3)]
    step = {**RUN, "points": [*points, corner("e", 80, 50, 60)], "radius": 25, "least_straight": 30}
    result = built(drawn, step)
    report = result.reports["route"]
    assert report.uses == ["plan"]
    assert report.data["route"]["points"][2] == pytest.approx([80, 0, 60])
    (short,) = [m for m in report.messages if m.code == "short-straight"]
    assert "10 mm" in short.text
    gone = {**step, "points": [{"id": "z", "at": {"by": "sketch", "step": "plan", "point": "p9"}}, *points]}
    assert built(drawn, gone).reports["route"].messages[-1].code == "deleted-reference"


def test_a_coil_about_a_tube_takes_its_radius_and_turns_from_a_table():
    around = {
        "kind": "wound",
        "id": "coil",
        "name": "Coil",
        "path": {"step": "tube"},
        "standoff": 2,
        "turns": 12,
        "even": "angle",
    }
    result = built(RUN, TUBE, around)
    assert result.reports["coil"].state == "fresh", result.reports["coil"].messages
    assert result.reports["coil"].figure.startswith("Ø18 mm, 12 turns")
    length = result.reports["route"].data["path"]["length"]
    table = {
        **around,
        "turns": None,
        "even": "axis",
        "turn_table": [{"at": 0, "value": 0}, {"at": 20, "value": 5}, {"at": length, "value": 8}],
    }
    assert built(RUN, TUBE, table).reports["coil"].messages[-1].code == "coil-kinks"
    straight_tube = {**RUN, "points": [corner("a", 0, 0, 0), corner("b", 90, 0, 0)]}
    table["turn_table"][-1]["at"] = 90
    assert built(straight_tube, TUBE, table).reports["coil"].data["turns"] == pytest.approx(8)
    for patch, code in (
        ({"turns": None}, "one-of-three"),
        ({"pitch": 4}, "one-of-three"),
        ({"turns": 0}, "bad-size"),
        ({"radius": -3}, "bad-size"),
        ({"turns": None, "even": "axis", "turn_table": [{"at": 0, "value": 3}, {"at": 40, "value": 1}]}, "turns-back"),
        ({"path": {"step": "route"}}, "no-radius"),
        ({"turns": 5000}, "too-many-turns"),
    ):
        assert built(RUN, TUBE, {**around, **patch}).reports["coil"].messages[-1].code == code, patch


def test_a_former_is_wound_as_drawn_with_the_tube_outside_it():
    axis = sketch("axis", XZ, polyline((0, 0), (60, 0)))
    former = sketch("former", YZ, circle(20))
    step = {
        "kind": "wound",
        "id": "coil",
        "name": "Coil",
        "path": {"step": "axis"},
        "former": {"step": "former"},
        "standoff": 4,
        "pitch": 12,
    }
    result = built(axis, former, step)
    assert result.reports["coil"].data["path"]["length"] == pytest.approx(math.hypot(60, TURN * 24 * 5), rel=1e-9)
    assert result.reports["coil"].uses == ["axis", "former"]
    assert built(axis, former, {**step, "standoff": -1}).reports["coil"].messages[-1].place["field"] == "standoff"
    along = {**sketch("former", XZ, circle(20))}
    assert built(axis, along, step).reports["coil"].messages[-1].code == "former-along"


# -- demo parts -----------------------------------------------------------------------------------


def test_the_suction_riser_by_its_corners_alone():
    """Runs less two tangent lengths at each corner, plus the arcs."""
    corners = np.array([(0, 0, 0), (0, 0, 260), (180, 0, 340), (180, 150, 340), (320, 150, 250.0)])
    runs = np.diff(corners, axis=0)
    ways = runs / np.linalg.norm(runs, axis=1)[:, None]
    turns = np.arccos((ways[:-1] * ways[1:]).sum(axis=1))
    length = np.linalg.norm(runs, axis=1).sum() + 60 * (turns - 2 * np.tan(turns / 2)).sum()
    (tube,) = build(demo("suction-riser")).bodies
    assert tube.body.volume() == pytest.approx(math.pi * (19**2 - 17**2) * length, rel=1e-9)


def test_the_frost_coil_lies_half_a_tube_off_its_former():
    result = build(demo("frost-coil"), quick=True)
    former = np.array(result.reports["former"].data["curves"]["smooth"])
    path = np.array(result.reports["lay"].data["path"]["points"])
    away = shapely.distance(shapely.points(path[:, :2]), shapely.Polygon(former))
    assert away == pytest.approx(
        np.full(len(path), 4.0), abs=0.06
    )  # the outline is told as a polygon of 0.05 mm chords
    assert np.ptp(path[:, 2]) == pytest.approx(90)


def test_springs_have_their_turns_and_close_at_their_ends():
    bent = build(demo("bent-relief-spring"), quick=True).reports
    axis = np.array(bent["axis"].data["curves"]["s"])
    path = np.array(bent["lay"].data["path"]["points"])
    places = np.column_stack([axis[:, 0], np.zeros(len(axis)), axis[:, 1]])
    away = np.linalg.norm(path[[0, -1], None] - places[None], axis=2).min(axis=1)
    assert away == pytest.approx([15, 8], abs=0.1)
    valve = build(demo("valve-spring"))
    lanes = valve.reports["spring"].data["lanes"]
    path = np.array(lanes["point"])
    turns = np.unwrap(np.arctan2(path[:, 1], path[:, 0])) / TURN
    rise = np.interp(
        [0.75, 7.25], turns - turns[0], path[:, 2]
    )  # the closed turns lie on each other up to where the pitch begins to grow
    assert rise == pytest.approx([0.75 * 2.525, 42 - 0.75 * 2.525], abs=0.02)
    (wire,) = valve.bodies
    assert wire.body.volume() < math.pi * 1.25**2 * valve.reports["spring"].data["length"]  # ground


def test_the_discharge_hose_keeps_its_straights_its_length_and_its_bend():
    report = build(demo("discharge-hose"), quick=True).reports["line"]
    pieces = report.data["path"]["pieces"]
    assert [p["length"] for p in pieces if p["kind"] == "line"] == pytest.approx([30, 30])
    assert report.data["path"]["length"] == pytest.approx(520, rel=1e-4)
    assert report.data["path"]["tightest"] > 90
    assert not report.messages


def test_a_smooth_route_passes_its_points_with_continuous_curvature():
    points = np.array([(0, 0, 0), (40, 10, 5), (70, -10, 30), (120, 0, 20.0)])
    path = smooth_through(points, False)
    knots = path.pieces[0].breaks()
    assert np.allclose(path.point(knots), points, atol=1e-9)
    assert np.allclose(path.curvature(knots[1:-1] - 1e-7), path.curvature(knots[1:-1] + 1e-7), atol=1e-6)
    assert np.allclose(path.curvature(knots[[0, -1]]), 0, atol=1e-9)
    ring = smooth_through(np.array([(10, 0, 0), (0, 10, 0), (-10, 0, 0), (0, -10, 0.0)]), True)
    ends = np.array([0.0, ring.length])
    assert np.allclose(ring.tangent(ends)[0], ring.tangent(ends)[1], atol=1e-9)
    assert ring.length == pytest.approx(20 * math.pi, rel=0.03)
    assert refusal(lambda: smooth_through(points[[0, 0, 1]], False)).message.code == "same-point"


@pytest.mark.parametrize(
    "uneven", [{"size": {"by": "ratio", "start": 1, "end": 0.8}}, {"rails": []}, {"profile": "beside"}]
)
def test_a_coil_takes_its_radius_from_an_even_tube_about_its_path_alone(uneven):
    """On a tube that is tapered, or beside its path, one radius would leave the coil floating."""
    beside = uneven.get("profile") == "beside"
    tube = {"kind": "sweep", "id": "tube", "name": "Tube", "path": {"step": "way"}, "profile": {"step": "ring"}} | (
        uneven if not beside else {}
    )
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "steps": [
            sketch("way", XY, polyline((0, 0), (90, 0))),
            sketch("ring", YZ, circle(6, 3 if beside else 0)),
            tube,
            {"kind": "wound", "id": "coil", "name": "Coil", "path": {"step": "tube"}, "radius": None, "turns": 4},
        ],
    }
    report = build(part(document), quick=True).reports["coil"]
    if "rails" in uneven:  # none: an even tube
        assert report.state == "fresh"
    else:
        assert report.messages[0].code == "not-even"
