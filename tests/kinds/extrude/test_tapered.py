"""Extrusions with leaning sides against prismatoids: their sections are offsets of the profile, whose areas are
quadratic in the height.
"""

import math

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.recipe.build import build
from tests.support.parts import XY, circle, part, polyline, sketch
from tests.support.shapes import slot

FEW = settings(max_examples=12, deadline=None)


def extruded(draw, **more):
    steps = [
        sketch("shape", XY, draw),
        {"kind": "extrude", "id": "b", "name": "B", "profile": {"step": "shape"}, "length": 20, **more},
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Tapered", "units": "mm", "steps": steps}))
    return result, result.reports["b"]


def volume(draw, **more):
    result, report = extruded(draw, **more)
    assert report.state == "fresh", report.messages
    (kept,) = result.bodies
    assert kept.body.valid()
    assert report.data["checks"]["volume_error"] == pytest.approx(0, abs=1e-6)
    return kept.body.volume()


def prismatoid(area, height):
    return height / 6 * (area(0) + 4 * area(0.5) + area(1))


@FEW
@given(st.floats(10, 60), st.floats(10, 60), st.floats(0, 1), st.floats(-8, 30), st.floats(5, 30))
def test_a_convex_outline_becomes_its_mitred_offset(x, y, share, taper, height):
    corners = [(0, 0), (x, 0), (x, y), (share * x / 2, y)]
    out = height * math.tan(math.radians(taper))
    shape = shapely.Polygon(corners)

    def area(t):
        return shape.buffer(out * t, join_style="mitre", mitre_limit=100).area

    assert volume(polyline(*corners, closed=True), length=height, taper=taper) == pytest.approx(
        prismatoid(area, height), rel=1e-6
    )


@FEW
@given(st.floats(5, 40), st.floats(-10, 60), st.floats(5, 20))
def test_a_circle_becomes_a_frustum_of_a_cone(radius, taper, height):
    end = radius + height * math.tan(math.radians(taper))
    if end < 0.5:
        return
    assert volume(circle(radius), length=height, taper=taper) == pytest.approx(
        math.pi * height / 3 * (radius**2 + radius * end + end**2), rel=1e-6
    )


def test_holes_get_narrower_where_the_outline_gets_wider_and_slots_stay_slots():
    plate = polyline((-30, -20), (30, -20), (30, 20), (-30, 20), closed=True)
    plate.point("c", 5, 0)
    plate.circle("ring", "c", 8)
    out = 20 * math.tan(math.radians(5))
    outside = prismatoid(lambda t: (60 + 2 * out * t) * (40 + 2 * out * t), 20)
    assert volume(plate, taper=5) == pytest.approx(
        outside - prismatoid(lambda t: math.pi * (8 - out * t) ** 2, 20), rel=1e-6
    )
    rounded = prismatoid(lambda t: 40 * 2 * (10 + out * t) + math.pi * (10 + out * t) ** 2, 20)
    assert volume(slot(), taper=5) == pytest.approx(rounded, rel=1e-6)


@pytest.mark.parametrize(
    ("draw", "change", "code"),
    [
        (circle(5), {"taper": 85}, "bad-size"),
        (circle(5), {"taper": -30}, None),
        (circle(5), {"taper": 5, "back": 3}, "taper-ahead"),
        (circle(5), {"taper": 5, "surface": True}, "one-region"),
    ],
)
def test_what_cannot_lean_is_refused(draw, change, code):
    _, report = extruded(draw, **change)
    (message,) = report.messages
    assert message.place["field"] == "taper"
    assert code in (None, message.code)
