"""Areas of a side that are raised or sunk, against closed forms and quadrature; nothing of them shows inside a hollow
body.
"""

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import dblquad, quad

from leadline.core.solids.body import Body
from leadline.core.solids.kernel import loosest
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, YZ, bar, circle, demo, part, polyline, sketch
from tests.support.shapes import Draw

FEW = settings(max_examples=12, deadline=None)


def beside(plane, distance):
    return {
        "kind": "datum",
        "id": "beside",
        "name": "Beside",
        "how": {"by": "offset", "plane": plane, "distance": distance},
    }


BESIDE = beside(XY, 60)
ON_TOP = {"kind": "step", "step": "beside"}


def embossed(body, height, way="raised", **more):
    return {
        "kind": "embossed",
        "id": "area",
        "name": "Area",
        "body": body,
        "profile": {"step": "badge"},
        "height": height,
        "way": way,
        **more,
    }


def rod(radius, badge, *steps, length=100):
    document = bar(length, 2 * radius)
    return {**document, "steps": [*document["steps"], BESIDE, sketch("badge", ON_TOP, badge), *steps]}


def done(document, step="area"):
    result = build(part(document))
    assert result.reports[step].state == "fresh", result.reports[step].messages
    assert all(k.body.valid() for k in result.bodies)
    return result


def between_cylinders(inner, outer, disc):
    """What lies between two cylinders about one axis, within a round prism of radius ``disc`` square to it: by
    quadrature.
    """
    width = lambda y: 2 * math.sqrt(disc**2 - y**2)  # noqa: E731
    over = lambda y: math.sqrt(outer**2 - y**2) - math.sqrt(inner**2 - y**2)  # noqa: E731
    return quad(lambda y: width(y) * over(y), -disc, disc, epsabs=1e-10)[0]


@FEW
@given(st.floats(8, 60), st.floats(0.1, 0.6), st.floats(0.02, 0.15), st.sampled_from(["raised", "sunk"]))
def test_a_round_area_on_a_rod_follows_the_rod(radius, share, high, way):
    disc, height = share * radius, high * radius
    document = rod(radius, circle(disc, 50, 0), embossed("sweep", height, way), length=max(100, 3 * radius))
    result = done(document)
    outer, inner = (radius + height, radius) if way == "raised" else (radius, radius - height)
    expected = between_cylinders(inner, outer, disc)
    assert result.reports["area"].data["volume"] == pytest.approx(expected, rel=1e-5)
    (kept,) = result.bodies
    plain = math.pi * radius**2 * max(100, 3 * radius)
    assert kept.body.volume() == pytest.approx(plain + (expected if way == "raised" else -expected), rel=1e-6)
    assert "area/top" in kept.body.face_names


@FEW
@given(st.floats(2, 18), st.floats(2, 8), st.floats(0.2, 5), st.sampled_from(["raised", "sunk"]))
def test_on_a_flat_face_it_is_a_plain_prism(x, y, height, way):
    badge = polyline((-x, -y), (x, -y), (0, y), closed=True)
    steps = [
        sketch("plan", XY, polyline((-30, -15), (30, -15), (30, 15), (-30, 15), closed=True)),
        {"kind": "extrude", "id": "b", "name": "Block", "profile": {"step": "plan"}, "length": 20},
        BESIDE,
        sketch("badge", ON_TOP, badge),
        embossed("b", height, way),
    ]
    result = done({"format": "leadline-part", "version": 1, "name": "Block", "units": "mm", "steps": steps})
    volume = 2 * x * 2 * y / 2 * height
    assert result.reports["area"].data["volume"] == pytest.approx(volume, rel=1e-7)
    assert result.bodies[0].body.volume() == pytest.approx(36000 + (volume if way == "raised" else -volume), rel=1e-7)


def heights(result):
    z = result.bodies[0].shown().points[:, 2]
    return z.min(), z.max()


def test_the_side_ahead_of_the_plane_is_raised_and_behind_it_the_nearer_one():
    document = rod(20, circle(5, 50, 0), embossed("sweep", 1))
    assert heights(done(document)) == pytest.approx(
        (-20, 21), abs=1e-2
    )  # all of the rod lies behind the plane, its top nearer
    document["steps"][-3] = {**BESIDE, "how": {**BESIDE["how"], "distance": -60}}
    assert heights(done(document)) == pytest.approx((-21, 20), abs=1e-2)
    document["steps"][-3] = {**BESIDE, "how": {**BESIDE["how"], "distance": 0}}
    assert heights(done(document)) == pytest.approx((-20, 21), abs=1e-2)


def test_a_badge_does_not_show_inside_when_the_body_is_made_hollow_after_it():
    hollow = {
        "kind": "hollow",
        "id": "hollow",
        "name": "Hollow",
        "body": "sweep",
        "wall": 2,
        "opened": [{"step": "sweep", "face": "sweep/cap/end"}],
    }
    plain = done(rod(20, circle(5, 50, 0), hollow), "hollow").bodies[0].body
    for way in ("raised", "sunk"):
        result = done(rod(20, circle(5, 50, 0), embossed("sweep", 1, way), hollow), "hollow")
        body, own = result.bodies[0].body, result.reports["area"].data["volume"]
        assert body.volume() == pytest.approx(plain.volume() + (own if way == "raised" else -own), rel=1e-6)
        inside = [n for n in body.face_names if n.startswith("hollow/inside/")]
        assert sorted(set(inside)) == sorted({n for n in plain.face_names if n.startswith("hollow/inside/")})
        void = [sum(Body("face", f, []).area() for n in set(inside) for f in b.face_of(n)) for b in (body, plain)]
        assert void[0] == pytest.approx(void[1], rel=1e-9)
    result = build(part(rod(20, circle(5, 50, 0), embossed("sweep", 3, "sunk"), hollow)))
    assert [m.code for m in result.reports["hollow"].messages] == ["area-through-wall"]


def test_a_badge_on_the_side_of_the_priming_bulb_has_about_its_area_times_its_height():
    document = demo("priming-bulb").model_dump(mode="json")
    first = next(i for i, s in enumerate(document["steps"]) if s["id"] == "bulb")
    document["steps"] = document["steps"][: first + 1]
    document["steps"] += [BESIDE, sketch("badge", ON_TOP, circle(6, 45, 0)), embossed("bulb", 1.5)]
    result = done(document)
    assert result.reports["area"].data["volume"] == pytest.approx(math.pi * 36 * 1.5, rel=0.02)


@pytest.mark.parametrize(
    ("badge", "change", "code", "field"),
    [
        (circle(5, 500, 0), {}, "misses-body", "profile"),
        (circle(5, 50, 0), {"height": 0}, "bad-size", "height"),
        (circle(5, 50, 0), {"body": "badge"}, "no-body", "body"),
        (circle(5, 50, 0), {"way": "sunk", "height": 25}, "no-raising", "height"),
    ],
)
def test_what_cannot_be_raised_is_refused(badge, change, code, field):
    result = build(part(rod(20, badge, embossed("sweep", 1) | change)))
    messages = result.reports["area"].messages
    assert [(m.code, m.place.get("field")) for m in messages] == [(code, field)]


def test_a_band_that_runs_out_over_both_ends_stops_flush_with_them():
    result = done(rod(20, polyline((-50, -2), (150, -2), (150, 2), (-50, 2), closed=True), embossed("sweep", 1)))
    over = quad(lambda y: math.sqrt(441 - y**2) - math.sqrt(400 - y**2), -2, 2)[0]
    assert result.reports["area"].data["volume"] == pytest.approx(100 * over, rel=1e-6)


def test_seen_from_the_side_of_its_own_axis_the_ends_are_raised():
    document = rod(20, circle(5, 50, 0), embossed("sweep", 2))
    document["steps"][-3:-1] = [beside(YZ, 160), sketch("badge", ON_TOP, circle(5, 0, 0))]
    result = done(document)
    assert result.reports["area"].data["volume"] == pytest.approx(math.pi * 25 * 2, rel=1e-7)
    assert result.bodies[0].shown().points[:, 0].max() == pytest.approx(102, abs=1e-6)


# -- where the side turns away ----------------------------------------------------------------------


BALL_CENTRES = [(0.0, 0.0), (3.0, -2.0)]


def ball(radius, badge, *steps):
    half = Draw()
    for name, y in (("c", 0), ("a", -radius), ("b", radius)):
        half.point(name, 0, y)
    half.arc("arc", "c", "a", "b")
    half.line("axis", "b", "a")
    turned = {"kind": "revolve", "id": "sweep", "name": "Ball", "profile": {"step": "half"}, "axis": "axis"}
    return {
        "format": "leadline-part",
        "version": 1,
        "name": "Ball",
        "units": "mm",
        "steps": [sketch("half", XZ, half), turned, BESIDE, sketch("badge", ON_TOP, badge), *steps],
    }


def between_spheres(inner, outer, disc, x, y):
    """What lies between two spheres about one middle within a round prism about (x, y): by quadrature over the disc, in
    polar places.
    """

    def over(r, t):
        square = (x + r * math.cos(t)) ** 2 + (y + r * math.sin(t)) ** 2
        return (math.sqrt(outer**2 - square) - math.sqrt(inner**2 - square)) * r

    return dblquad(over, 0, math.tau, 0, disc, epsabs=1e-8)[0]


@FEW
@given(st.floats(10, 40), st.floats(0.45, 0.93), st.floats(0.05, 0.5))
def test_a_wide_area_is_raised_on_one_side_of_a_rod(radius, share, high):
    disc, height = share * radius, high * radius
    result = done(rod(radius, circle(disc, 50, 0), embossed("sweep", height), length=max(100, 3 * radius)))
    assert result.reports["area"].data["volume"] == pytest.approx(
        between_cylinders(radius, radius + height, disc), rel=1e-5
    )


@FEW
@given(st.floats(8, 40), st.floats(0.1, 0.7), st.floats(0.1, 0.97))
def test_a_deep_area_is_sunk_from_one_side_or_refused(radius, share, deep):
    """Its walls stand where the side is up to R/(R - h) times as far out: beyond that the side has turned away."""
    disc, height = share * radius, deep * radius
    assume(abs(disc * radius / (radius - height) - radius) > 0.03 * radius)
    result = build(
        part(rod(radius, circle(disc, 50, 0), embossed("sweep", height, "sunk"), length=max(100, 3 * radius)))
    )
    report = result.reports["area"]
    if disc * radius / (radius - height) > radius:
        assert [(m.code, m.place["field"]) for m in report.messages] == [("no-raising", "height")]
        return
    assert report.state == "fresh", report.messages
    assert report.data["volume"] == pytest.approx(between_cylinders(radius - height, radius, disc), rel=1e-5)
    assert result.bodies[0].body.valid()


@pytest.mark.parametrize(
    ("radius", "disc", "height", "way"),
    [(15, 9, 2, "raised"), (15, 9, 2, "sunk"), (15, 11, 1, "raised"), (15, 4, 6, "sunk"), (60, 20, 5, "raised")],
)
@pytest.mark.parametrize("centre", BALL_CENTRES)
def test_an_area_on_a_ball(radius, disc, height, way, centre):
    x, y = (v * radius / 15 for v in centre)
    result = done(ball(radius, circle(disc, x, y), embossed("sweep", height, way)))
    inner, outer = (radius, radius + height) if way == "raised" else (radius - height, radius)
    assert result.reports["area"].data["volume"] == pytest.approx(between_spheres(inner, outer, disc, x, y), rel=1e-5)


@FEW
@given(
    st.sampled_from([XY, YZ, XZ]),
    st.sampled_from([-1, 1]),
    st.floats(10, 70),
    st.floats(0.1, 0.6),
    st.floats(0.02, 0.15),
    st.sampled_from(["raised", "sunk"]),
    st.booleans(),
)
def test_an_area_on_a_ball_from_any_side_is_as_exact_as_the_ball(plane, side, radius, share, high, way, midst):
    """Where the outline lies about the ball's equator its arcs are merged into one circle: of a wide tolerance once, so
    that nothing could be added there.
    """
    disc, height, x = share * radius, high * radius, 0.0 if midst else radius / 7
    document = ball(radius, circle(disc, x, 0), embossed("sweep", height, way))
    document["steps"][2] = beside(plane, 2 * side * radius)
    result = done(document)
    inner, outer = (radius, radius + height) if way == "raised" else (radius - height, radius)
    assert result.reports["area"].data["volume"] == pytest.approx(between_spheres(inner, outer, disc, x, 0), rel=1e-5)
    assert loosest(result.bodies[0].body.shape) < 1e-4


def test_an_area_sunk_right_through_is_told_with_what_has_gone():
    steps = [
        sketch("plan", XY, polyline((-30, -15), (30, -15), (30, 15), (-30, 15), closed=True)),
        {"kind": "extrude", "id": "b", "name": "Block", "profile": {"step": "plan"}, "length": 20},
        BESIDE,
        sketch("badge", ON_TOP, circle(5)),
        embossed("b", 30, "sunk"),
    ]
    result = done({"format": "leadline-part", "version": 1, "name": "Block", "units": "mm", "steps": steps})
    assert [m.code for m in result.reports["area"].messages] == ["area-through"]
    assert result.reports["area"].data["volume"] == pytest.approx(math.pi * 25 * 20, rel=1e-7)
