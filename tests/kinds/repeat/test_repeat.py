"""Copies along a path: spacing by arc length, how they stand and turn, clearance, one geometry in files, re-fitted
ones.
"""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from scipy.spatial.transform import Rotation

from leadline.core.clearance.copies import TOUCH, _least_distances, _pair_distances, clearances
from leadline.core.clearance.shape import Shape
from leadline.core.geometry.placements import Placements
from leadline.core.paths.nearest import nearest_station
from leadline.core.paths.path import path_from_sketch
from leadline.core.problems import Problem
from leadline.core.repeat.spacing import Run, Spread, spread_out
from leadline.core.solids.step_file import read_step
from leadline.core.solids.tessellate import tessellate
from leadline.exports.formats import export
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, YZ, Shelf, circle, curve, part, polyline, sketch
from tests.support.shapes import Draw


def made(document):
    return part({"format": "leadline-part", "version": 1, "units": "mm", **document})


SLOPE = math.radians(20)


def ring_path(half: float = 6, radius: float = 4) -> Draw:
    """A long round, lying along x."""
    d = Draw()
    for name, x, y in (
        ("a", -half, radius),
        ("b", half, radius),
        ("c", half, -radius),
        ("d", -half, -radius),
        ("m", -half, 0),
        ("n", half, 0),
    ):
        d.point(name, x, y)
    d.line("e1", "a", "b")
    d.arc("e2", "n", "c", "b")
    d.line("e3", "c", "d")
    d.arc("e4", "m", "a", "d")
    return d


WAVE = curve((0, 60), (90, 100), (180, 30), (300, 60))


def rings(**repeat):
    """A ring about the origin, repeated along a wavy spline; the ring lies along the spline."""
    steps = [
        sketch("ring", XZ, ring_path()),
        {
            "kind": "sweep",
            "id": "link",
            "name": "Ring",
            "path": {"step": "ring"},
            "profile": {"quick": "round", "width": 3},
        },
        sketch("way", XZ, WAVE),
        {"kind": "repeat", "id": "row", "name": "Row", "source": "link", "path": {"step": "way"}, "seat": YZ, **repeat},
    ]
    return {"name": "Tether rings", "steps": steps}


def along(length: float = 200, **repeat):
    """A pin of 4 mm that stands up at the start of a straight of a length, repeated along it."""
    steps = [
        sketch("way", XZ, polyline((0, 0), (length, 0))),
        sketch("foot", XY, circle(2)),
        {"kind": "extrude", "id": "pin", "name": "Pin", "profile": {"step": "foot"}, "length": 10},
        {"kind": "repeat", "id": "row", "name": "Row", "source": "pin", "path": {"step": "way"}, **repeat},
    ]
    return {"name": "Comb", "steps": steps}


def built(document):
    result = build(made(document))
    report = result.reports["row"]
    assert report.state == "fresh", [m.text for m in report.messages]
    return result, report


def refused(document):
    report = build(made(document)).reports["row"]
    assert report.state == "failed"
    return report.messages[0]


# -- where ------------------------------------------------------------------------------------------


@given(
    st.floats(1, 1e4),
    st.one_of(st.none(), st.integers(2, 60)),
    st.floats(0.02, 1.0),
    st.booleans(),
    st.booleans(),
    st.floats(0, 0.3),
    st.floats(0, 0.3),
    st.floats(0, 0.99),
)
def test_copies_keep_their_spacing_and_stay_on_the_path(length, count, share, fitted, closed, first, last, phase):
    spread = Spread(count, None if count else share * length, fitted, first * length, last * length)
    row = spread_out(spread, [Run(), Run(phase)], length, closed)
    assert row.stations.min() >= first * length - 1e-6
    assert row.stations.max() <= (1 - last) * length * (1 + 1e-9)
    own = np.sort(row.stations[row.run == 0])
    assert np.allclose(np.diff(own), row.spacing)
    whole = closed and first == last == 0
    if count is not None:
        assert len(own) == count
        if not whole:
            assert own[-1] == pytest.approx((1 - last) * length)
    if whole:
        assert len(own) * row.spacing == pytest.approx(length)
    other = row.stations[row.run == 1]
    gaps = np.abs((other[:, None] - own[None]) / row.spacing % 1 - phase)
    assert np.minimum(gaps, 1 - gaps).min(axis=1).max(initial=0) < 1e-6


def test_copies_stand_evenly_by_arc_length_not_by_chord():
    _, report = built(rings(count=12))
    stations = np.array(report.data["copies"]["stations"])
    plane_path = path_of(rings(), "way")
    fine = np.linspace(0, plane_path.length, 200_001)
    walked = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(plane_path.point(fine), axis=0), axis=1))])
    assert np.allclose(np.diff(np.interp(stations, fine, walked)), walked[-1] / 11, rtol=1e-6)


def path_of(document, name):
    products = {}
    build(made(document), products=products)
    product = products[name]
    return path_from_sketch(product.solution.sketch, product.plane)


def test_the_nearest_station_is_square_to_the_way_to_it():
    path = path_of(rings(), "way")
    point = np.array([120.0, 30.0, 40.0])
    s = nearest_station(path, point)
    dense = np.linspace(0, path.length, 100_001)
    assert (
        np.linalg.norm(path.point(np.array([s])) - point)
        <= np.linalg.norm(path.point(dense) - point, axis=1).min() + 1e-9
    )


# -- how they stand ---------------------------------------------------------------------------------


def places_of(result) -> Placements:
    (body,) = [b for b in result.bodies if b.places is not None]
    return body.places


def test_round_a_circle_turning_copies_are_turned_about_its_axis():
    steps = along(count=6)["steps"]
    steps[0] = sketch("way", XY, circle(50))
    result, _ = built({"name": "Wheel", "steps": steps})
    places = places_of(result)
    angles = np.sort(np.arctan2(places.turns[:, 1, 0], places.turns[:, 0, 0]) % (2 * np.pi))
    assert np.allclose(np.sort(np.diff(angles)), np.pi / 3)
    assert np.allclose(places.shifts, 0, atol=1e-9)  # rotations about the circle's own axis
    held, _ = built({"name": "Wheel", "steps": [*steps[:3], {**steps[3], "orientation": "held"}]})
    assert np.allclose(places_of(held).turns, np.eye(3))


def test_every_second_copy_and_every_run_is_turned_about_the_path():
    result, _ = built(rings(count=8, spacing=20, alternate=90, runs=[{"id": "r", "phase": 0.5, "turn": 45}]))
    places, path = places_of(result), path_of(rings(), "way")
    report, _ = built(rings(count=16, spacing=10))
    plain = places_of(report)
    assert len(places) == 16
    for i in range(16):
        about = places.turns[i] @ plain.turns[i].T  # what the turn adds
        tangent = path.tangent(np.array([10.0 * i]))[0]
        angle = math.degrees(math.acos(min(1.0, (np.trace(about) - 1) / 2)))
        assert angle == pytest.approx((45 if i % 2 else 0) + (90 if (i // 2) % 2 else 0), abs=1e-4)
        assert np.allclose(about @ tangent, tangent, atol=1e-9)


def test_upright_copies_keep_the_axis_up():
    result, _ = built(rings(count=9, orientation="upright", up={"by": "axis", "axis": "Y"}))
    places, path = places_of(result), path_of(rings(), "way")
    up = places.turns @ np.array([0, 0, 1.0])  # the seat's y axis, which is Z, comes to point up
    assert np.allclose(up, [0, 1, 0], atol=1e-9)
    along_it = places.turns @ np.array([1.0, 0, 0])
    assert np.allclose(along_it, path.tangent(np.linspace(0, path.length, 9)), atol=1e-9)


# -- clearance --------------------------------------------------------------------------------------


def test_the_clearance_of_rings_is_that_of_the_kernel():
    result, report = built(rings(count=14, spacing=22, runs=[{"id": "r", "phase": 0.5, "turn": 90}]))
    (body,) = result.bodies
    told = report.data["copies"]["clearance"]
    solids = [body.body.moved(t, d).shape for t, d in zip(body.places.turns, body.places.shifts, strict=True)]
    for i in (3, 4, 9):
        exact = min(BRepExtrema_DistShapeShape(solids[i], solids[k]).Value() for k in range(i - 3, i + 4) if k != i)
        assert told[i] == pytest.approx(exact, abs=0.003)


def test_copies_that_run_into_each_other_are_said_with_their_numbers():
    _, report = built(rings(count=8, spacing=10))
    (message,) = report.messages
    assert message.code == "copies-touch"
    assert "1 and 2" in message.text


def test_balls_in_a_row_clear_each_other_by_the_gap():
    result, _ = built(along(count=5))
    shape = Shape.of([tessellate(result.bodies[0].body, 0.001)])
    turns = np.tile(np.eye(3), (5, 1, 1))
    near = clearances(shape, Placements(turns, np.arange(5)[:, None] * np.array([[4.5, 0, 0]])))
    assert np.allclose(near.distance, 0.5, atol=2e-3)
    far = clearances(shape, Placements(turns, np.arange(5)[:, None] * np.array([[400.0, 0, 0]])))
    assert np.isinf(far.distance).all()
    assert (far.other == -1).all()


def _pegs() -> Shape:
    return Shape.of([tessellate(built(along(count=2))[0].bodies[0].body, 0.05)])


@settings(max_examples=25)
@given(
    n=st.integers(2, 60),
    room=st.floats(2, 60),
    seed=st.integers(0, 2**32 - 1),
    twins=st.booleans(),
    long=st.floats(0.3, 8),
)
def test_the_nearest_of_a_heap_is_the_nearest_of_all(n, room, seed, twins, long):
    chance = np.random.default_rng(seed)
    ball = _pegs()
    shape = Shape(ball.points * [long, 1, 1], ball.triangles)
    shifts = chance.uniform(0, room, (n, 3))
    if twins:  # copies in one place, as two runs of one path give
        shifts[1::2] = shifts[: 2 * (n // 2) : 2]
    places = Placements(Rotation.random(n, random_state=seed % 2**31).as_matrix(), shifts)
    first, second = np.triu_indices(n, 1)
    every = _pair_distances(shape, places, first, second)[0]
    assert (_least_distances(shape, places, first, second) <= every + 1e-9).all()
    centres = places.moved(shape.centre[None])[:, 0]
    every[np.linalg.norm(centres[first] - centres[second], axis=1) > 3 * shape.radius] = np.inf
    table = np.full((n, n), np.inf)
    table[first, second] = table[second, first] = every
    expected = table.min(axis=1)
    expected[expected < TOUCH * shape.radius] = 0
    near = clearances(shape, places)
    assert np.array_equal(np.isinf(near.distance), np.isinf(expected))
    met = np.isfinite(expected)
    assert np.allclose(near.distance[met], expected[met], atol=1e-12)
    assert np.allclose(table[np.flatnonzero(met), near.other[met]], expected[met], atol=TOUCH * shape.radius)


# -- what comes of them -----------------------------------------------------------------------------


def test_files_hold_one_ring_for_all_copies(tmp_path):
    result, report = built(rings(count=10, spacing=25, runs=[{"id": "r", "phase": 0.5, "turn": 90}]))
    assert report.data["copies"]["volume"] == pytest.approx(20 * math.pi * 1.5**2 * (24 + 8 * math.pi), rel=1e-6)
    step = export(result, "step")
    assert step.count(b"MANIFOLD_SOLID_BREP(") == 1
    assert step.count(b"NEXT_ASSEMBLY_USAGE_OCCURRENCE(") == 20
    (tmp_path / "rings.step").write_bytes(step)
    read = type(result.bodies[0].body)("read", read_step(tmp_path / "rings.step"), [])
    assert read.volume() == pytest.approx(report.data["copies"]["volume"], rel=1e-6)
    glb = export(result, "glb")
    assert glb.count(b'"translation"') == 20
    assert glb.count(b'"primitives"') == 1
    stl = export(result, "stl")
    one = len(result.bodies[0].shown().triangles)
    assert len(stl) == 84 + 50 * 20 * one


def test_the_source_gives_way_to_its_copies_unless_it_is_kept():
    assert [b.name for b in built(along(count=4))[0].bodies] == ["Row"]
    assert [b.name for b in built(along(count=4, keep=True))[0].bodies] == ["Pin", "Row"]


def plate(**repeat):
    steps = [
        sketch("floor", XY, polyline((-10, -10), (210, -10), (210, 10), (-10, 10), closed=True)),
        {"kind": "extrude", "id": "plate", "name": "Plate", "profile": {"step": "floor"}, "length": 5},
        *along(**repeat)["steps"],
    ]
    return {"name": "Plate", "steps": steps}


def test_copies_are_cut_out_or_added_and_cut_copies_leave_their_row():
    whole = 220 * 20 * 5
    holes, _ = built(plate(count=8, result="cut"))
    assert sum(b.body.volume() for b in holes.bodies) == pytest.approx(whole - 8 * math.pi * 4 * 5, rel=1e-6)
    pegs, _ = built(plate(count=8, result="add"))
    assert sum(b.body.volume() for b in pegs.bodies) == pytest.approx(whole + 8 * math.pi * 4 * 5, rel=1e-6)
    document = along(count=8)
    document["steps"] += [
        sketch("saw", XZ, polyline((-5, 5), (45, 5), (45, 20), (-5, 20), closed=True)),
        {
            "kind": "extrude",
            "id": "off",
            "name": "Saw",
            "profile": {"step": "saw"},
            "length": 5,
            "back": 5,
            "result": "cut",
        },
    ]
    sawn = build(made(document))
    copies = [b for b in sawn.bodies if b.places is not None]
    assert len(copies) == 1
    assert len(copies[0].places) == 6
    assert sorted(b.body.volume() for b in sawn.bodies if b.places is None) == pytest.approx([math.pi * 4 * 5] * 2)


def test_copies_beside_a_cut_stay_in_their_row_and_every_mesh_is_kept():
    document = along(count=8)
    ring = [sketch("saw", XZ, polyline((5, 5), (23, 5), (23, 20), (5, 20), closed=True))]
    cut = {
        "kind": "extrude",
        "id": "off",
        "name": "Saw",
        "profile": {"step": "saw"},
        "length": 5,
        "back": 5,
        "result": "cut",
    }
    missed = build(made({**document, "steps": [*document["steps"], *ring, cut]}))
    assert [len(b.places) for b in missed.bodies] == [8]  # the box of none is met
    slanted = sketch(
        "saw", XZ, polyline((1.5, 9.9), (40, 30), (1.5, 30), closed=True)
    )  # over the corner of the first, and its box
    store = Shelf()
    for _ in range(2):  # the second time from the store
        result = build(made({**document, "steps": [*document["steps"], slanted, cut]}), store=store)
        assert sum(len(b.places) if b.places is not None else 1 for b in result.bodies) == 8
        assert all(f"{b.mesh_key}/mesh" in store for b in result.bodies)


def test_a_repeat_of_what_was_cut_out_cuts_again():
    document = plate(count=3, result="cut")
    document["steps"][-2]["result"] = "cut"  # the pin itself is a hole
    result, _ = built(document)
    assert sum(b.body.volume() for b in result.bodies) == pytest.approx(220 * 20 * 5 - 3 * math.pi * 4 * 5, rel=1e-6)


def test_refitted_copies_end_on_the_same_slanted_plane():
    """A round of radius 2 that rises to a plane: its volume is its area times the height at its middle."""
    slant = Draw()
    slant.point("p1", 0, 30)
    slant.point("p2", 200, 30 + 200 * math.tan(SLOPE))
    slant.line("e1", "p1", "p2")
    steps = [
        sketch("way", XZ, polyline((0, 0), (200, 0))),
        sketch("slant", XZ, slant),
        {
            "kind": "datum",
            "id": "roof",
            "name": "Roof",
            "how": {"by": "line", "step": "slant", "line": "e1", "angle": "90 deg"},
        },
        sketch("rise", XZ, polyline((10, 0), (10, 200))),
        {
            "kind": "sweep",
            "id": "tine",
            "name": "Tine",
            "path": {"step": "rise"},
            "profile": {"quick": "round", "width": 4},
            "cut_end": {"kind": "step", "step": "roof"},
        },
        {
            "kind": "repeat",
            "id": "row",
            "name": "Row",
            "source": "tine",
            "path": {"step": "way"},
            "count": 5,
            "first": 10,
            "last": 10,
            "refit": True,
        },
    ]
    result, _ = built({"name": "Comb", "steps": steps})
    volumes = sorted(b.body.volume() for b in result.bodies)
    heights = [30 + x * math.tan(SLOPE) for x in (10, 55, 100, 145, 190)]
    assert volumes == pytest.approx([math.pi * 4 * h for h in heights], rel=1e-6)
    assert all(
        high - low == pytest.approx(math.pi * 4 * 45 * math.tan(SLOPE), rel=1e-5) for low, high in pairwise(volumes)
    )
    steps[3] = sketch("rise", XZ, polyline((10, 0), (10, 60)))  # too short for the farther places
    message = refused({"name": "Comb", "steps": steps})
    assert message.place["station"] == pytest.approx(100)
    assert "cannot be built" in message.text


# -- refusals ---------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("repeat", "code", "says"),
    [
        ({}, "no-count", "how many"),
        ({"count": 2.5}, "bad-count", "2.5"),
        ({"count": 0}, "bad-count", "0"),
        ({"spacing": 0}, "bad-size", "0 mm"),
        ({"spacing": "0.002 mm"}, "too-many-copies", "100000"),
        ({"count": 9, "spacing": 30}, "no-room", "240 mm"),
        ({"count": 3, "first": 150, "last": 60}, "no-room", "nothing is left"),
        ({"count": 3, "runs": [{"id": "r", "phase": 1.5}]}, "bad-phase", "1.5"),
        ({"count": 3, "source": "way"}, "wrong-source", "a sweep"),
        ({"count": 600, "result": "add"}, "too-many-copies", "600"),
    ],
)
def test_what_cannot_be_is_refused_with_its_number(repeat, code, says):
    message = refused(along(**repeat))
    assert message.code == code
    assert says in message.text
    assert message.way_out


def test_a_repeat_without_a_source_is_said():
    with pytest.raises(Problem):
        spread_out(Spread(None, None), [Run()], 10, False)
