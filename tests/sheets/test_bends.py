"""The sheet of bends: against a route worked out by hand, and by making the path again from its rows."""

from __future__ import annotations

import csv
import io
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from leadline.core.geometry.plane import cross
from leadline.core.paths.bends import bends_of, path_of
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece
from leadline.core.paths.route import smooth_through, through_points
from leadline.core.problems import Problem
from leadline.recipe.build import Memory
from leadline.recipe.part import Part
from leadline.recipe.sheets import as_csv, as_json, make_sheet, sheets
from tests.support.parts import part, polyline, sketch
from tests.support.shapes import X, Y, Z

CORNERS = [(0, 0, 0), (140, 0, 0), (140, 110, 0), (140, 110, 160)]


def route(**more: Any) -> Part:
    points = [{"id": f"q{i}", "at": {"by": "place", "x": x, "y": y, "z": z}} for i, (x, y, z) in enumerate(CORNERS)]
    step = {"kind": "route", "id": "way", "name": "Way", "points": points, "radius": 30, **more}
    plan = sketch("plan", {"kind": "principal", "plane": "XY"}, polyline((0, 0), (30, 0), (30, 30), closed=True))
    return part(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Way",
            "units": more.pop("units", "mm"),
            "steps": [step, plan],
        }
    )


def test_three_runs_with_two_square_bends():
    """The first bend turns from +x to +y, the second from +y to +z: its plane is turned by 90° about +y,
    left-handed.
    """
    sheet = as_json(make_sheet(route(), "way", "bends", Memory()))
    feeds, turns, angles = ([row[k] for row in sheet["rows"]] for k in ("feed", "turn", "angle"))
    assert feeds == pytest.approx([110, 50])
    assert turns == pytest.approx([0, 90])
    assert angles == pytest.approx([90, 90])
    assert sheet["last"] == pytest.approx(130)
    assert sheet["bent"] == pytest.approx(2 * 30 * math.pi / 2)
    assert sheet["length"] == pytest.approx(110 + 50 + 130 + 30 * math.pi)
    assert [row["start"] for row in sheet["rows"]] == pytest.approx([110, 160 + 15 * math.pi])
    assert sheet["columns"]["turn"] == {"title": "Turn", "measure": "angle"}


def test_as_a_table_lengths_are_in_the_unit_of_the_part():
    made = make_sheet(route(), "way", "bends", Memory())
    rows = list(csv.reader(io.StringIO(as_csv(made, "in"))))
    assert rows[0] == ["Bend", "Feed (in)", "Turn (deg)", "Angle (deg)", "Radius (in)", "From (in)", "To (in)"]
    assert [float(v) for v in rows[1][:5]] == pytest.approx([1, 110 / 25.4, 0, 90, 30 / 25.4])
    assert rows[4][0] == "Straight after the last bend (in)"
    assert float(rows[4][1]) == pytest.approx(130 / 25.4)


@settings(max_examples=60)
@given(st.lists(st.tuples(*[st.floats(-100, 100)] * 3), min_size=3, max_size=9), st.floats(1, 12))
def test_the_rows_make_the_path_again(corners, radius):
    points = np.array(corners)
    gaps = np.linalg.norm(np.diff(points, axis=0), axis=1)
    assume(gaps.min() > 1)
    ways = np.diff(points, axis=0) / gaps[:, None]
    assume(((ways[1:] * ways[:-1]).sum(axis=1) > -0.98).all() and ((ways[1:] * ways[:-1]).sum(axis=1) < 1 - 1e-9).all())
    try:
        path = through_points(points, [radius] * len(points)).path
    except Problem:
        assume(False)
    bends = bends_of(path)
    first = next(p for p in path.pieces if isinstance(p, ArcPiece))
    again = path_of(bends, path.point(np.zeros(1))[0], path.tangent(np.zeros(1))[0], first.axis)
    s = np.linspace(0, path.length, 400)
    assert again.length == pytest.approx(path.length, rel=1e-12)
    assert again.point(s) == pytest.approx(path.point(s), abs=1e-7)
    assert sum(r.feed + r.radius * r.angle for r in bends.rows) + bends.last == pytest.approx(path.length)


def test_arcs_that_go_on_in_one_another_are_one_bend_and_others_are_not():
    arc = ArcPiece(np.zeros(3), X, Y, 20, 0.7)
    end = arc.point(np.array([arc.length]))[0] / 20
    on = ArcPiece(np.zeros(3), end, cross(Z, end), 20, 0.5)
    tail = on.point(np.array([on.length]))[0]
    out = tail / 20
    back = ArcPiece(2 * tail, -out, cross(Z, out), 20, 0.4)  # the other way round
    rows = bends_of(Path([arc, on, back])).rows
    assert [r.angle for r in rows] == pytest.approx([1.2, 0.4])
    assert [abs(r.turn) for r in rows] == pytest.approx([0, math.pi])


@pytest.mark.parametrize(
    ("path", "code"),
    [
        (Path([LinePiece(np.zeros(3), 10 * X), LinePiece(10 * X, 10 * X + 5 * Y)]), "sharp-corner"),
        (smooth_through(np.array(CORNERS, dtype=float), False), "free-curve"),
    ],
)
def test_what_cannot_be_bent_is_said_with_its_place(path, code):
    with pytest.raises(Problem) as caught:
        bends_of(path)
    assert caught.value.message.code == code
    assert "station" in caught.value.message.place


@pytest.mark.parametrize(("step", "name"), [("plan", "bends"), ("gone", "bends"), ("way", "prices")])
def test_there_are_only_the_sheets_that_there_are(step, name):
    with pytest.raises(Problem) as caught:
        make_sheet(route(), step, name, Memory())
    assert caught.value.message.code == "no-sheet"
    assert {"bends", "spring"} <= set(sheets())
