"""A tube's distance to what stands about it: against skew lines, rings about a rod, and the kernel."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepExtrema import BRepExtrema_DistShapeShape

from leadline.core.clearance.along import FOUR, Tube, along
from leadline.core.clearance.shape import Shape
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece
from leadline.core.sweep.motion import Motion
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, YZ, circle, curve, part, polyline, sketch
from tests.support.shapes import X, Y, Z, disc

CUBE = np.array([[x, y, z] for x in (0.0, 1.0) for y in (0.0, 1.0) for z in (0.0, 1.0)])
CUBE_FACES = np.array(
    [
        [0, 1, 3],
        [0, 3, 2],
        [4, 6, 7],
        [4, 7, 5],
        [0, 4, 5],
        [0, 5, 1],
        [2, 3, 7],
        [2, 7, 6],
        [0, 2, 6],
        [0, 6, 4],
        [1, 5, 7],
        [1, 7, 3],
    ]
)


def tube(name, plane, draw, width, **more):
    return [
        sketch(f"{name}_path", plane, draw),
        {
            "kind": "sweep",
            "id": name,
            "name": name.capitalize(),
            "path": {"step": f"{name}_path"},
            "profile": {"quick": "round", "width": width},
            **more,
        },
    ]


def block(name, x, y, width, depth, height, **more):
    corners = [(x, y), (x + width, y), (x + width, y + depth), (x, y + depth), (x, y)]
    return [
        sketch(f"{name}_outline", XY, polyline(*corners)),
        {
            "kind": "extrude",
            "id": name,
            "name": name.capitalize(),
            "profile": {"step": f"{name}_outline"},
            "length": height,
            **more,
        },
    ]


def measured(*steps, **how):
    """The report of a clearance step after these, with the bodies."""
    check = {"kind": "clearance", "id": "check", "name": "Clearance", "path": {"step": "pipe"}, **how}
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "Yard",
        "units": "mm",
        "steps": [s for group in steps for s in group] + [check],
    }
    result = build(part(document))
    return result.reports["check"], result.bodies


@settings(max_examples=12, deadline=None)
@given(high=st.floats(25, 80), angle=st.floats(-70, 70), a=st.floats(4, 20), b=st.floats(4, 20))
def test_two_straight_tubes_that_cross_in_space(high, angle, a, b):
    """The distance of skew cylinders is that of their axes less both radii."""
    run = 150 * math.tan(math.radians(angle))
    lifted = {"kind": "datum", "id": "high", "name": "High", "how": {"by": "offset", "plane": XY, "distance": high}}
    over = tube("rod", {"kind": "step", "step": "high"}, polyline((60 - run, -150), (60 + run, 150)), b)
    report, _ = measured(tube("pipe", XY, polyline((0, 0), (120, 0)), a), [lifted], over)
    clear = report.data["clear"]
    assert clear["least"] == pytest.approx(high - a / 2 - b / 2, abs=0.01)
    assert clear["station"] == pytest.approx(60, abs=0.5)
    assert np.linalg.norm(np.subtract(clear["at"], clear["to"])) == pytest.approx(clear["least"], abs=1e-9)
    assert report.messages == []


def test_a_ring_about_a_rod_is_clear_of_it_by_the_same_everywhere():
    rod = [
        sketch("rod_round", XY, circle(10)),
        {"kind": "extrude", "id": "rod", "name": "Rod", "profile": {"step": "rod_round"}, "length": 30, "back": 30},
    ]
    report, _ = measured(tube("pipe", XY, circle(50), 8), rod, least=40)
    distance = np.array(report.data["clear"]["distance"])
    assert distance == pytest.approx(36, abs=0.03)
    (warning,) = report.messages
    assert warning.code == "too-close"
    assert warning.text == "It comes within 36 mm of “Rod”, and 40 mm are asked for, from 0 mm to 314.2 mm."


def test_the_closest_place_of_a_bent_tube_is_the_kernels():
    report, bodies = measured(
        tube("pipe", XZ, curve((0, 60), (90, 20), (180, 75), (260, 30)), 14),
        block("deck", 60, -20, 50, 40, 9),
        block("post", 230, 12, 20, 20, 60),
    )
    pipe, deck, post = (next(b.body for b in bodies if b.step == n) for n in ("pipe", "deck", "post"))
    exact = [BRepExtrema_DistShapeShape(pipe.shape, o.shape).Value() for o in (deck, post)]
    clear = report.data["clear"]
    assert clear["least"] == pytest.approx(min(exact), abs=0.02)
    assert clear["bodies"][clear["nearest"]] == ("Deck", "Post")[int(np.argmin(exact))]
    lane, other = np.array(clear["distance"]), np.array(clear["other"])
    for k, d in enumerate(exact):
        assert lane[other == k].min() == pytest.approx(d, abs=0.05)


def test_picked_obstacles_alone_count_and_ends_may_be_left_out():
    steps = (
        tube("pipe", XY, polyline((0, 0), (200, 0)), 10),
        block("flange", -20, -20, 20, 40, 30),
        block("wall", 80, 12, 40, 10, 30),
    )
    report, _ = measured(*steps)
    assert report.data["clear"]["least"] == 0
    assert "touches “Flange” at 0 mm" in report.messages[0].text
    report, _ = measured(*steps, obstacles=["wall"], least=3)
    assert report.data["clear"]["least"] == pytest.approx(7, abs=0.01)
    assert report.messages == []
    report, _ = measured(*steps, skip_start=30)
    assert report.data["clear"]["least"] == pytest.approx(7, abs=0.01)
    assert report.data["clear"]["stations"][0] == 30


@pytest.mark.parametrize("width", [0.4, 30.0])
def test_a_tube_that_runs_into_something_says_where(width):
    """However thin the rod is, between whatever stations it passes."""
    report, _ = measured(
        tube("pipe", XY, polyline((0, 0), (200, 0)), 12), tube("rod", XY, polyline((71.3, -90), (71.3, 80)), width)
    )
    clear = report.data["clear"]
    assert clear["station"] == pytest.approx(71.3, abs=max(1.0, width / 2))
    if width < 12:  # no point of the tube is inside it
        assert clear["least"] == 0
        assert report.messages[0].code == "touches"
        return
    assert clear["least"] == pytest.approx(-width / 2, abs=1.1)  # of the ring that is nearest to the rod's axis
    assert report.messages[0].code == "runs-into"
    sunk = np.array(clear["stations"])[np.array(clear["distance"]) < 0]
    assert (sunk.min(), sunk.max()) == pytest.approx((71.3 - width / 2, 71.3 + width / 2), abs=4)


def test_what_is_wholly_inside_is_no_clearance():
    report, _ = measured(tube("pipe", XY, polyline((0, 0), (200, 0)), 60), block("seed", 90, -3, 6, 6, 5))
    assert report.data["clear"]["least"] == pytest.approx(-27, abs=0.1)  # of the corner that is deepest
    assert report.data["clear"]["station"] == pytest.approx(93, abs=4)


def test_a_wire_in_a_hollow_tube_runs_into_nothing():
    report, _ = measured(
        tube("pipe", XY, polyline((0, 0), (200, 0)), 60, wall=5), tube("wire", XY, polyline((20, 0), (180, 0)), 10)
    )
    assert report.data["clear"]["least"] == pytest.approx(20, abs=0.02)


def test_a_bare_path_gets_a_diameter_and_copies_count():
    way = sketch("pipe", XZ, polyline((0, 40), (300, 40)))
    row = {
        "kind": "repeat",
        "id": "row",
        "name": "Row",
        "source": "post",
        "path": {"step": "rail"},
        "spacing": 60,
        "keep": True,
    }
    rail = sketch("rail", XZ, polyline((0, 0), (300, 0)))
    report, _ = measured([way, rail], block("post", -5, 14, 10, 10, 60), [row], diameter=16)
    clear = report.data["clear"]
    assert clear["least"] == pytest.approx(6, abs=0.01)
    lane, s = np.array(clear["distance"]), np.array(clear["stations"])
    for at in (60, 120, 180):
        assert lane[np.argmin(np.abs(s - at))] == pytest.approx(6, abs=0.05)
        i = np.argmin(np.abs(s - at - 30))
        assert lane[i] == pytest.approx(math.hypot(25 - abs(s[i] - at - 30), 14 - 8), abs=0.05)


@pytest.mark.parametrize(
    ("how", "said"),
    [
        ({"path": {"step": "way"}}, "needs a diameter"),
        ({"path": {"step": "way"}, "diameter": 0}, "above zero"),
        ({"obstacles": ["pipe"]}, "has no body here"),
        ({"path": {"step": "skin"}}, "surface without thickness"),
        ({"skip_start": 150, "skip_end": 50}, "nothing is left"),
        ({"path": {"step": "deck_outline"}, "diameter": "what"}, "what"),
    ],
)
def test_what_cannot_be_measured_is_refused_clearly(how, said):
    report, _ = measured(
        tube("pipe", XY, polyline((0, 0), (200, 0)), 10),
        [
            sketch("way", YZ, polyline((0, 0), (50, 50))),
            *tube("skin", XZ, polyline((0, 90), (50, 90)), 5, surface=True),
        ],
        block("deck", 0, 20, 10, 10, 10),
        **how,
    )
    assert report.state == "failed"
    assert said in report.messages[0].text
    assert report.messages[0].way_out


def test_without_another_body_there_is_nothing_to_measure():
    report, _ = measured(tube("pipe", XY, polyline((0, 0), (200, 0)), 10))
    assert report.messages[0].code == "no-obstacles"


@settings(max_examples=5, deadline=None)
@given(
    st.lists(
        st.tuples(st.floats(-60, 60), st.floats(-60, 60), st.floats(-60, 60), st.floats(0.3, 25)),
        min_size=2,
        max_size=12,
    ),
    st.booleans(),
)
def test_of_many_obstacles_each_counts_as_it_would_alone(places, bent):
    """Boxes tell which obstacles cannot be the nearest: no number may depend on that."""
    way = Path([ArcPiece(np.zeros(3), X, Y, 40.0, 4.0)], up=Z) if bent else Path([LinePiece(-50 * X, 50 * X)], up=Z)
    measured_tube = Tube.of(Motion(way), [disc(4.0)], 0.05)
    cubes = [Shape(size * CUBE + np.array([x, y, z]), CUBE_FACES) for x, y, z, size in places]
    together = along(measured_tube, cubes)
    alone = [along(measured_tube, [cube]) for cube in cubes]
    whole = along(measured_tube, [Shape.of(cubes)])  # one obstacle, of which nothing is left out
    if min(a.least for a in alone) <= 0:
        assert together.least <= 0
        assert whole.least <= 0
        if any(
            cube.holds(measured_tube.rings[:, ::FOUR].reshape(-1, 3)).any() for cube in cubes
        ):  # rings are inside, not a cube inside the tube
            assert together.least == pytest.approx(whole.least, abs=1e-9)
            assert together.distance == pytest.approx(whole.distance, abs=1e-9)
        return
    assert together.least == pytest.approx(whole.least, abs=1e-6)
    assert together.least == pytest.approx(min(a.least for a in alone), abs=1e-4)
    assert together.distance == pytest.approx(np.min([a.distance for a in alone], axis=0), abs=1e-3)
    nearest = np.array([a.distance for a in alone])[together.other, np.arange(len(together.stations))]
    assert nearest == pytest.approx(together.distance, abs=1e-3)
