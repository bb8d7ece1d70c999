"""Hollow bodies: volumes against closed forms, walls as measured, and what is refused."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.recipe.build import build
from tests.core.parts import XY, circle, part, sketch
from tests.core.test_edging import BOX, RIM, ROD
from tests.core.test_loft_step import ABOVE, BESIDE, loft, quick


def face(name):
    return {"step": name.split("/")[0], "face": name}


def made(steps, wall, opened=(), body="b", **more):
    step = {"kind": "hollow", "id": "h", "name": "Hollow", "body": body, "wall": wall, "opened": [face(n) for n in opened], **more}
    return build(part({"format": "leadline-part", "version": 1, "name": "Hollow", "units": "mm", "steps": [*steps, step]}))


def built(*given_, **more):
    result = made(*given_, **more)
    report = result.reports["h"]
    assert report.state == "fresh", report.messages
    (kept,) = result.bodies
    assert kept.body.valid()
    return kept.body, report.data["walls"]


@settings(max_examples=10, deadline=None)
@given(st.floats(0.3, 8), st.booleans(), st.booleans())
def test_a_block_open_above_or_closed_inward_or_outward(t, outward, opened):
    body, walls = built(BOX, t, ["b/cap/end"] if opened else [], side="outward" if outward else "inward")
    sizes = [s + (2 if outward else -2) * t for s in (40, 20)] + [30 + (1 if opened else 2) * (t if outward else -t)]
    assert body.volume() == pytest.approx(abs(24000 - math.prod(sizes)), rel=1e-9)
    assert walls["least"] == pytest.approx(t, rel=1e-9)
    assert walls["most"] <= t * math.sqrt(3) * (1 + 1e-9)


def test_walls_of_two_thicknesses():
    body, walls = built(BOX, 2, ["b/cap/end"], walls=[{"face": face("b/side/e0/0"), "wall": 5}])
    assert body.volume() == pytest.approx(24000 - 36 * 13 * 28, rel=1e-9)
    assert walls["least"] == pytest.approx(2)
    assert walls["most"] >= 5


@settings(max_examples=8, deadline=None)
@given(st.floats(5, 20), st.floats(0.5, 2), st.floats(1.2, 3), st.floats(0.2, 0.9))
def test_a_thicker_end_swallows_the_rounding_beside_it(radius, wall, times, share):
    """A rod whose rounded end gets a wall of its own, beyond the depth of the rounding: the inside is a plain rod."""
    end = times * wall
    rounding = wall + share * (min(end, radius / 2) - wall)
    drawn = [sketch("s", XY, circle(radius)), {"kind": "extrude", "id": "b", "name": "Rod", "profile": {"step": "s"}, "length": 40}]
    rounded = [*drawn, {"kind": "rounding", "id": "r", "name": "R", "edges": [{"step": "b", "edge": "b/cap/end&b/side/ring/0"}], "how": {"by": "even", "radius": rounding}}]
    solid = build(part({"format": "leadline-part", "version": 1, "name": "Rod", "units": "mm", "steps": rounded})).bodies[0].body.volume()
    body, walls = built(rounded, wall, ["b/cap/start"], walls=[{"face": face("b/cap/end"), "wall": end}])
    assert body.volume() == pytest.approx(solid - math.pi * (radius - wall) ** 2 * (40 - end), rel=1e-7)
    assert (walls["least"], walls["most"]) == pytest.approx((wall, end), rel=1e-6)


def test_a_rod_with_a_rounded_end_is_a_test_tube():
    """A rounding of 6 on a rod of R 10, hollowed by 2: the inside is a rod of R 8 whose end is rounded by 4."""
    rounded = [*ROD, {"kind": "rounding", "id": "r", "name": "R", "edges": [{"step": "b", "edge": RIM}], "how": {"by": "even", "radius": 6}}]
    body, walls = built(rounded, 2, ["b/cap/start"])

    def rod(radius, length, r):
        off = r * r * (radius - r / 2) - math.pi * r * r / 4 * (radius - r + 4 * r / (3 * math.pi))
        return math.pi * radius**2 * length - 2 * math.pi * off

    assert body.volume() == pytest.approx(rod(10, 30, 6) - rod(8, 28, 4), rel=1e-5)
    assert walls["least"] == pytest.approx(2, abs=0.001)
    assert "h/rim" in body.face_names
    assert any(n.startswith("h/inside/b:side:ring") for n in body.face_names)


def test_a_loft_has_walls_of_true_thickness():
    """A cone frustum open at both ends: the wall is measured square to the cone, not in its sections."""
    body, walls = built([BESIDE, loft(quick("round", 40), quick("round", 20, plane=ABOVE))], 2, ["loft/cap/start", "loft/cap/end"], body="loft")
    lean = 2 * math.hypot(40, 10) / 40  # the wall as it stands in a section
    frustum = lambda a, b: math.pi * 40 / 3 * (a * a + a * b + b * b)  # noqa: E731
    assert body.volume() == pytest.approx(frustum(20, 10) - frustum(20 - lean, 10 - lean), rel=1e-4)
    assert walls["least"] == pytest.approx(2, abs=0.001)
    assert walls["most"] < 2.1


@pytest.mark.parametrize(
    ("more", "code", "field"),
    [
        ({"wall": 0}, "bad-size", "wall"),
        ({"wall": 11}, "wall-too-thick", "wall"),
        ({"wall": 2, "opened": ["b/cap/end", "b/cap/start", *(f"b/side/e{k}/0" for k in range(4))]}, "no-hollow", "wall"),
        ({"wall": 2, "opened": ["b/side/e9/0"]}, "deleted-reference", "opened"),
        ({"wall": 2, "walls": [{"face": face("b/side/e9/0"), "wall": 1}]}, "deleted-reference", "walls"),
        ({"wall": 2, "body": "s"}, "no-body", "body"),
    ],
)
def test_what_cannot_be_is_said(more, code, field):
    result = made(BOX, **more)
    (message,) = result.reports["h"].messages
    assert (message.code, message.place["field"]) == (code, field)
    assert message.way_out
    assert len(result.bodies) == 1


def test_the_thickest_wall_that_fits_is_said():
    (message,) = made(BOX, 14, ["b/cap/end"]).reports["h"].messages
    thickest = float(message.way_out.split("fits: ")[1].split(" mm")[0])
    assert 9.5 < thickest < 10
