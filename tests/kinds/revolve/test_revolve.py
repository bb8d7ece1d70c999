"""Solids of revolution against Pappus and against solids known by formula."""

from __future__ import annotations

import math

import pytest

from leadline.recipe.build import build
from tests.support.parts import XZ, circle, part, polyline, sketch
from tests.support.shapes import Draw


def revolve(draw, **more):
    steps = [
        sketch("shape", XZ, draw),
        {"kind": "revolve", "id": "body", "name": "Body", "profile": {"step": "shape"}, **more},
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Turned", "units": "mm", "steps": steps}))
    return result, result.reports["body"]


def half_ball(radius: float) -> Draw:
    d = Draw()
    for name, x, y in (("o", 0, 0), ("top", 0, radius), ("low", 0, -radius)):
        d.point(name, x, y)
    d.line("axis", "top", "low")
    d.arc("rim", "o", "low", "top")
    return d


def test_a_half_disc_gives_a_ball_and_a_triangle_a_cone():
    result, report = revolve(half_ball(10))
    assert report.state == "fresh"
    (ball,) = result.bodies
    assert ball.body.volume() == pytest.approx(4 / 3 * math.pi * 1000, rel=1e-9)
    assert ball.body.area() == pytest.approx(4 * math.pi * 100, rel=1e-9)
    cone, report = revolve(polyline((0, 0), (6, 0), (0, 15), closed=True))
    assert cone.bodies[0].body.volume() == pytest.approx(math.pi * 36 * 5, rel=1e-9)
    assert report.data["checks"]["valid"]
    assert {n.split("/")[2] for n in cone.bodies[0].body.face_names} == {"e0", "e1"}


@pytest.mark.parametrize("angle", [30, 180, 359, 360])
def test_a_ring_has_the_volume_that_pappus_says(angle):
    result, report = revolve(circle(3, 20, 5), angle=f"{angle} deg")
    share = angle / 360
    assert result.bodies[0].body.volume() == pytest.approx(2 * math.pi * 20 * math.pi * 9 * share, rel=1e-9)
    assert report.data["numbers"]["volume"] == pytest.approx(2 * math.pi * 20 * math.pi * 9 * share, rel=1e-9)
    caps = [n for n in result.bodies[0].body.face_names if "/cap/" in n]
    assert len(caps) == (0 if angle == 360 else 2)


def test_it_turns_about_a_line_of_its_sketch():
    d = circle(2, 0, 0)
    d.point("a", 5, -9)
    d.point("b", 5, 9)
    d.line("spin", "a", "b", construction=True)
    result, _ = revolve(d, axis="spin")
    assert result.bodies[0].body.volume() == pytest.approx(2 * math.pi * 5 * math.pi * 4, rel=1e-9)


@pytest.mark.parametrize(
    ("draw", "more", "code"),
    [
        (circle(3, 2, 0), {}, "crosses-axis"),
        (circle(3, 9, 0), {"angle": 0}, "bad-size"),
        (circle(3, 9, 0), {"angle": "400 deg"}, "bad-size"),
        (circle(3, 9, 0), {"axis": "gone"}, "deleted-reference"),
    ],
)
def test_what_cannot_be_turned_is_refused(draw, more, code):
    _, report = revolve(draw, **more)
    assert report.state == "failed"
    assert report.messages[0].code == code


TURNED = {"kind": "datum", "id": "goal", "name": "Goal", "how": {"by": "angle", "plane": XZ, "axis": "y", "angle": 0}}


@pytest.mark.parametrize("angle", [1, 40, 90, 135, 179, 180, 200, 300])
def test_it_turns_as_far_as_to_a_plane_through_its_axis(angle):
    """A plane stands both at an angle and half a turn further: it is reached at the first of them."""
    goal = {**TURNED, "how": {**TURNED["how"], "angle": angle}}
    steps = [
        goal,
        sketch("shape", XZ, circle(3, 20, 5)),
        {
            "kind": "revolve",
            "id": "body",
            "name": "Body",
            "profile": {"step": "shape"},
            "until": {"by": "plane", "plane": {"kind": "step", "step": "goal"}},
        },
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Turned", "units": "mm", "steps": steps}))
    report = result.reports["body"]
    assert report.state == "fresh", report.messages
    turned = report.data["numbers"]["volume"] / (2 * math.pi * 20 * math.pi * 9) * 360
    way = angle % 180  # the profile turns one way or the other, as its plane's normal says
    assert min(abs(turned - (way or 180)), abs(turned - (180 - way))) < 1e-6
    end = result.bodies[0].body.face_of("body/cap/end")
    assert len(end) == 1


def test_it_turns_as_far_as_to_a_face_and_not_to_a_plane_beside_its_axis():
    block = [
        sketch("plan", XZ, polyline((-30, -10), (0, -10), (0, 10), (-30, 10), closed=True)),
        {"kind": "extrude", "id": "b", "name": "B", "profile": {"step": "plan"}, "length": 50, "back": 50},
    ]
    ring = {
        "kind": "revolve",
        "id": "body",
        "name": "Body",
        "profile": {"step": "shape"},
        "until": {"by": "face", "face": {"step": "b", "face": "b/side/e1/0"}},
    }
    steps = [*block, sketch("shape", XZ, circle(3, 20, 5)), ring]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Turned", "units": "mm", "steps": steps}))
    assert result.reports["body"].data["numbers"]["volume"] == pytest.approx(
        2 * math.pi * 20 * math.pi * 9 / 4, rel=1e-9
    )
    ring["until"]["face"]["face"] = "b/side/e3/0"
    (message,) = (
        build(part({"format": "leadline-part", "version": 1, "name": "Turned", "units": "mm", "steps": steps}))
        .reports["body"]
        .messages
    )
    assert (message.code, message.place["field"]) == ("not-through-axis", "until")
