"""Helix steps: conical, flat, of changing pitch, with several starts; against closed forms and a fine polyline."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.exports.formats import export
from leadline.recipe.bodies import _clear_of_each_other
from leadline.recipe.build import build
from tests.support.parts import XY, Shelf, circle, part, sketch


def made(*more, store=None, **coil):
    steps = [{"kind": "helix", "id": "coil", "name": "Coil", "plane": XY, "radius": 20, **coil}, *more]
    result = build(
        part({"format": "leadline-part", "version": 1, "name": "Coil", "units": "mm", "steps": steps}),
        store=store,
        products=(products := {}),
    )
    return result, products


def path_of(**coil):
    result, products = made(**coil)
    assert result.reports["coil"].state == "fresh", result.reports["coil"].messages
    return products["coil"].path, result.reports["coil"]


def ends(path):
    return path.point(np.array([0.0, path.length]))


def polyline_length(radius, rise, turns, n=400001):
    u = np.linspace(0, turns, n)
    r, z = radius(u), rise(u)
    p = np.stack([r * np.cos(2 * np.pi * u), r * np.sin(2 * np.pi * u), z], axis=1)
    return float(np.linalg.norm(np.diff(p, axis=0), axis=1).sum())


@settings(max_examples=15, deadline=None)
@given(first=st.floats(2, 40), last=st.floats(2, 40), height=st.floats(5, 90), turns=st.floats(0.4, 8))
def test_a_conical_coil_has_the_length_of_its_curve(first, last, height, turns):
    path, _ = path_of(radius=first, end_radius=last, height=height, turns=turns)
    exact = polyline_length(lambda u: first + (last - first) * u / turns, lambda u: height * u / turns, turns)
    assert path.length == pytest.approx(exact, rel=1e-8)
    a, b = ends(path)
    angle = 2 * math.pi * turns
    assert a == pytest.approx([first, 0, 0], abs=1e-9)
    assert b == pytest.approx([last * math.cos(angle), last * math.sin(angle), height], abs=1e-9)


@pytest.mark.parametrize("hand", ["right", "left"])
def test_a_flat_spiral_has_the_length_of_archimedes(hand):
    """L = [φ sqrt(1 + φ²) + asinh φ] b / 2 between the angles, for r = b φ."""
    path, report = path_of(radius=6, end_radius=30, height=0, turns=4, hand=hand)
    b = 24 / (8 * math.pi)
    total = [b / 2 * (f * math.sqrt(1 + f * f) + math.asinh(f)) for f in (6 / b, 30 / b)]
    assert path.length == pytest.approx(total[1] - total[0], rel=1e-12)
    s = np.linspace(0, path.length, 50)
    p, t = path.point(s), path.tangent(s)
    assert np.abs(p[:, 2]).max() == 0
    assert ((p[:, 0] * t[:, 1] - p[:, 1] * t[:, 0]) * (1 if hand == "right" else -1) > 0).all()
    assert "flat" in report.figure


def test_closed_spring_ends_by_a_table_of_pitches():
    """A turn of the wire's own size at either end, and the rise is the area under the table."""
    table = [{"at": a, "value": v} for a, v in ((0, 2), (1, 2), (1.5, 8), (6.5, 8), (7, 2), (8, 2))]
    path, report = path_of(radius=12, turns=8, pitch_table=table)
    assert report.data["coil"]["height"] == pytest.approx(2 + 2.5 + 40 + 2.5 + 2)
    assert ends(path)[1][2] == pytest.approx(49, abs=1e-9)
    at, pitch = (np.array([p[k] for p in table]) for k in ("at", "value"))
    n = 400000
    middle = (np.arange(n) + 0.5) * 8 / n
    risen = np.concatenate([[0], np.cumsum(np.interp(middle, at, pitch)) * 8 / n])
    exact = polyline_length(lambda u: 12 + 0 * u, lambda _: risen, 8, n + 1)
    assert path.length == pytest.approx(exact, rel=1e-8)
    wire = {
        "kind": "sweep",
        "id": "wire",
        "name": "Wire",
        "path": {"step": "coil"},
        "profile": {"quick": "round", "width": 1.9},
    }
    result, _ = made(wire, radius=12, turns=8, pitch_table=table)
    (body,) = result.bodies
    assert body.body.valid()
    assert body.body.volume() == pytest.approx(math.pi * 0.95**2 * path.length, rel=1e-6)


RIDGE = {
    "kind": "sweep",
    "id": "ridge",
    "name": "Ridge",
    "path": {"step": "coil"},
    "profile": {"quick": "round", "width": 3},
}


def test_three_starts_are_one_shape_at_three_places():
    """The lead is three pitches; each start is the first turned by a third about the axis."""
    shelf = Shelf()
    result, _ = made(RIDGE, pitch=5, turns=4, starts=3, store=shelf)
    report = result.reports["ridge"]
    single, _ = made(RIDGE, pitch=15, turns=4)
    assert result.reports["coil"].data["path"]["length"] == pytest.approx(single.reports["coil"].data["path"]["length"])
    assert report.data["numbers"]["volume"] == pytest.approx(3 * single.reports["ridge"].data["numbers"]["volume"])
    assert report.data["numbers"]["centre"][:2] == pytest.approx([0, 0], abs=1e-9)
    (row,) = result.bodies
    starts = row.places.moved(np.array([[20.0, 0, 0]]))[:, 0]
    angles = np.degrees(np.arctan2(starts[:, 1], starts[:, 0])) % 360
    assert np.sort(angles) == pytest.approx([0, 120, 240])
    text = export(result, "step")
    assert (text.count(b"MANIFOLD_SOLID_BREP("), text.count(b"NEXT_ASSEMBLY_USAGE_OCCURRENCE(")) == (1, 3)
    again, _ = made(RIDGE, pitch=5, turns=4, starts=3, store=shelf)
    assert len(again.bodies[0].places) == 3


def test_starts_are_added_to_a_rod_and_said_when_they_touch():
    rod = [
        sketch("round", XY, circle(19)),
        {"kind": "extrude", "id": "rod", "name": "Rod", "profile": {"step": "round"}, "length": 40, "back": 5},
    ]
    coil = {"radius": 19, "pitch": 6, "turns": 2, "starts": 2}
    result, _ = made(*rod, {**RIDGE, "result": "add"}, **coil)
    (body,) = result.bodies
    one, _ = made(*rod, {**RIDGE, "result": "add"}, **{**coil, "pitch": 12, "starts": 1})
    plain = math.pi * 19**2 * 45
    assert body.body.valid()
    assert body.body.volume() - plain == pytest.approx(2 * (one.bodies[0].body.volume() - plain), rel=1e-6)
    again = {"kind": "repeat", "id": "more", "name": "More", "source": "ridge", "path": {"step": "axis"}, "count": 3}
    assert [m.code for m in made(*rod, RIDGE, again, **coil)[0].reports["more"].messages] == ["several-starts"]
    close, _ = made({**RIDGE, "profile": {"quick": "round", "width": 7}}, pitch=6, turns=2, starts=3)
    assert [m.code for m in close.reports["ridge"].messages] == ["starts-touch"]


@settings(max_examples=2)
@given(st.integers(3, 7), st.floats(1.0, 1.8), st.floats(2.2, 4.0), st.booleans())
def test_many_starts_change_a_rod_by_as_many_times_as_one(starts, width, pitch, cut):
    """Their boxes overlap, though they stay clear of each other: they are taken at once, and each still counts
    as one.
    """
    rod = [
        sketch("round", XY, circle(20)),
        {"kind": "extrude", "id": "rod", "name": "Rod", "profile": {"step": "round"}, "length": 12, "back": 6},
    ]
    ridge = {**RIDGE, "profile": {"quick": "round", "width": width}, "result": "cut" if cut else "add"}
    coil = {"radius": 20, "height": 6}

    def changed(**more):
        (body,) = made(*rod, ridge, **coil, **more)[0].bodies
        assert body.body.valid()
        return body.body.volume() - math.pi * 400 * 18

    assert changed(pitch=pitch, starts=starts) == pytest.approx(
        starts * changed(pitch=pitch * starts, starts=1), rel=1e-6
    )


def test_only_tools_that_stay_clear_of_each_other_are_taken_at_once():
    tools = [body.body for body in made(RIDGE, pitch=6, turns=0.5)[0].bodies]
    for rise, clear in ((2.9, False), (3.0, False), (3.02, False), (3.6, True), (40.0, True)):
        both = [*tools, tools[0].moved(np.eye(3), np.array([0, 0, rise]))]
        assert _clear_of_each_other(both, [b.box() for b in both]) is clear


@pytest.mark.parametrize(
    ("coil", "said"),
    [
        ({"pitch": 5}, "two of pitch, turns and height"),
        ({"pitch": 0, "turns": 3}, "pitch is not above zero"),
        ({"pitch": 0, "height": 0, "end_radius": 30}, "its turns cannot follow"),
        ({"turns": 0, "height": 10}, "turns is not above zero"),
        ({"pitch": 5, "turns": 3, "end_radius": -2}, "end radius is not above zero"),
        ({"turns": 3, "pitch": 4, "pitch_table": [{"at": 0, "value": 4}, {"at": 3, "value": 8}]}, "no pitch or height"),
        ({"turns": 3, "pitch_table": [{"at": 0, "value": 4}, {"at": 0, "value": 8}]}, "two pitches at one turn"),
        ({"turns": 3, "pitch_table": [{"at": 0, "value": 4}, {"at": 3, "value": -8}]}, "under zero"),
        ({"turns": 3, "pitch_table": [{"at": 0, "value": 0}, {"at": 3, "value": 0}]}, "all zero"),
        ({"turns": 5000, "pitch": 1}, "5000 turns"),
    ],
)
def test_what_is_no_helix_is_refused_clearly(coil, said):
    report = made(**coil)[0].reports["coil"]
    assert report.state == "failed"
    assert said in report.messages[0].text
    assert report.messages[0].way_out
    assert report.messages[0].place["field"]
