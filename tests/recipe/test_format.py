"""What the part format can say: planes by numbers, quick profiles, stations as shares of the length."""

from __future__ import annotations

import copy
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.limits import DOCUMENT_BYTES
from leadline.recipe.build import build
from leadline.recipe.part_file import check_document, part_from, read_part, write_part
from tests.support.parts import XY, bar, polyline, sketch
from tests.support.sweep_steps import document, refused, swept

LINE = sketch("path", XY, polyline((0, 0), (90, 0)))


@pytest.mark.parametrize(
    ("profile", "area"),
    [
        ({"quick": "ring", "width": 20, "wall": 1.5}, math.pi * (100 - 8.5**2)),
        ({"quick": "hexagon", "width": 17}, math.sqrt(3) / 2 * 17**2),
        ({"quick": "ellipse", "width": 24, "height": 10}, math.pi * 12 * 5),
        (
            {
                "quick": "polygon",
                "corners": [{"x": 0, "y": 0}, {"x": 12, "y": 0}, {"x": 12, "y": 5}, {"x": 0, "y": "1/2 in"}],
            },
            12 * (5 + 12.7) / 2,
        ),
        ({"quick": "polygon", "corners": [{"x": 0, "y": 6}, {"x": 8, "y": 0}, {"x": 0, "y": 0}]}, 24),
    ],
)
def test_quick_profiles_have_their_areas(profile, area):
    report, (kept,) = swept(LINE, profile=profile)
    assert kept.body.valid()
    assert kept.body.volume() == pytest.approx(area * 90, rel=1e-7)
    assert report.data["section"]["area"] == pytest.approx(area)


@pytest.mark.parametrize(
    ("profile", "code"),
    [
        ({"quick": "ring", "width": 20, "wall": 10}, "bad-size"),
        ({"quick": "ring", "width": 20}, "bad-size"),
        ({"quick": "hexagon", "width": 0}, "bad-size"),
        ({"quick": "ellipse", "width": 5}, "bad-size"),
        ({"quick": "polygon", "corners": [{"x": 0, "y": 0}, {"x": 1, "y": 0}]}, "bad-size"),
        (
            {"quick": "polygon", "corners": [{"x": 0, "y": 0}, {"x": 9, "y": 9}, {"x": 9, "y": 0}, {"x": 0, "y": 9}]},
            "crosses-itself",
        ),
    ],
)
def test_quick_profiles_that_cannot_be_are_refused(profile, code):
    assert refused(LINE, profile=profile).code == code


def datum(how, *before):
    result = build(
        document(
            LINE, *before, {"kind": "datum", "id": "d", "name": "D", "how": how}, profile={"quick": "round", "width": 4}
        )
    )
    report = result.reports["d"]
    assert report.state == "fresh", [m.text for m in report.messages]
    plane = report.data["plane"]
    return np.array(plane["origin"]), np.array(plane["x"]), np.array(plane["y"])


@settings(max_examples=30, deadline=None)
@given(
    st.tuples(*[st.floats(-5, 5)] * 3).filter(lambda v: np.linalg.norm(v) > 0.1), st.tuples(*[st.floats(-200, 200)] * 3)
)
def test_a_plane_by_its_normal(normal, origin):
    at, x, y = datum({"by": "normal", "normal": list(normal), **dict(zip("xyz", origin, strict=True))})
    assert at == pytest.approx(np.array(origin))
    assert np.cross(x, y) == pytest.approx(np.array(normal) / np.linalg.norm(normal), abs=1e-6)
    assert [x @ x, y @ y, x @ y] == pytest.approx([1, 1, 0], abs=1e-6)


def test_a_plane_by_its_normal_has_its_x_axis_as_asked():
    _, x, _ = datum({"by": "normal", "normal": [0, 0, 2], "along": [1, 1, 5]})
    assert x == pytest.approx(np.array([1, 1, 0]) / math.sqrt(2))


@pytest.mark.parametrize("axis", ["x", "y"])
@pytest.mark.parametrize("angle", [0, 30, 90, -120])
def test_a_plane_turned_about_an_axis_of_another(axis, angle):
    _, x, y = datum({"by": "angle", "plane": XY, "axis": axis, "angle": angle})
    a = math.radians(angle)
    still, normal = (x, [0, -math.sin(a), math.cos(a)]) if axis == "x" else (y, [math.sin(a), 0, math.cos(a)])
    assert still == pytest.approx(np.eye(3)["xy".index(axis)], abs=1e-6)
    assert np.cross(x, y) == pytest.approx(np.array(normal), abs=1e-6)


def test_planes_that_no_numbers_fix_are_refused():
    for how, code in (
        ({"by": "normal", "normal": [0, 0, 0]}, "no-direction"),
        ({"by": "normal", "normal": [0, 0, 1], "along": [0, 0, 3]}, "in-line"),
    ):
        made = build(
            document(
                LINE, {"kind": "datum", "id": "d", "name": "D", "how": how}, profile={"quick": "round", "width": 4}
            )
        )
        assert made.reports["d"].messages[0].code == code


@given(st.floats(0, 100))
@settings(max_examples=20, deadline=None)
def test_stations_as_shares_of_the_length(share):
    result = build(
        document(
            LINE,
            {
                "kind": "plane",
                "id": "p",
                "name": "P",
                "path": {"step": "path"},
                "place": "length",
                "value": f"{share} %",
            },
            profile={"quick": "round", "width": 4},
            start="10 %",
            end="60%",
            twist={
                "by": "table",
                "points": [{"at": 0, "value": 0}, {"at": "50 %", "value": 90}, {"at": "100%", "value": 90}],
            },
        )
    )
    assert result.reports["p"].data["station"] == pytest.approx(0.9 * share)
    lanes = result.reports["sweep"].data["lanes"]
    assert result.reports["sweep"].data["length"] == pytest.approx(45)
    assert np.interp(22.5, lanes["station"], lanes["twist"]) == pytest.approx(90, abs=0.5)


def test_a_part_of_the_greatest_size_can_be_opened_from_its_own_file():
    document = bar()
    path = document["steps"][0]
    lines = [{"kind": "line", "id": f"e{k}", "start": "p1", "end": "p2", "construction": True} for k in range(10, 2900)]
    copies = [copy.deepcopy(path) | {"id": f"path{k}"} for k in range(32)]
    for one in copies:
        one["sketch"]["entities"] += lines
    document["steps"] = [*copies, *document["steps"]]
    part = part_from(document)
    written = part.model_dump(mode="json")
    check_document(written)
    file = write_part(part)
    assert len(file) > DOCUMENT_BYTES
    assert read_part(file) == part
    with pytest.raises(Problem, match="MB") as caught:
        check_document({**written, "steps": [*written["steps"], *written["steps"][:5]]})
    assert caught.value.message.code == "too-large"
