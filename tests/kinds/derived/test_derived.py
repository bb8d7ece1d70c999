"""Paths made of others: pieces, paths beside them, mirror images, moved copies."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.paths.beside import beside
from leadline.core.paths.moved import mirrored_path, moved_path
from leadline.core.paths.pieces import ArcPiece
from leadline.core.paths.route import smooth_through, through_points
from leadline.core.problems import Problem
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, YZ, curve, part, polyline, sketch

BENT = through_points(np.array([(0, 0, 0), (100, 0, 0), (100, 80, 0), (100, 80, 90.0)]), [20] * 4, False).path
FREE = smooth_through(np.array([(0, 0, 0), (40, 10, 5), (70, -10, 30), (120, 0, 20.0)]), False)


def derived(how, draw=None, **more):
    steps = [
        sketch("way", XZ, draw or curve((0, 0), (50, 20), (100, 0))),
        {"kind": "derived", "id": "made", "name": "Made", "path": {"step": "way"}, "how": how, **more},
    ]
    products = {}
    document = {"format": "leadline-part", "version": 1, "name": "Paths", "units": "mm", "steps": steps}
    report = build(part(document), products=products).reports["made"]
    return report, products["made"].path if "made" in products else None


@pytest.mark.parametrize("path", [BENT, FREE], ids=["bends", "free"])
@given(st.floats(-7, 7).filter(lambda d: abs(d) > 0.1), st.floats(0, 2 * math.pi))
def test_a_path_beside_keeps_its_distance_square_to_the_path(path, distance, angle):
    made = beside(path, distance, angle)
    s = np.linspace(0.1, made.length - 0.1, 40)
    p, t = made.point(s), made.tangent(s)
    dense = np.linspace(0, path.length, 4001)
    nearest = dense[np.argmin(np.linalg.norm(p[:, None] - path.point(dense)[None], axis=2), axis=1)]
    away, u = p - path.point(nearest), path.tangent(nearest)
    gap = np.linalg.norm(
        away - u * (away * u).sum(axis=1)[:, None], axis=1
    )  # the stations beside it are off along the path
    assert np.allclose(gap, abs(distance), atol=1e-3)
    assert np.allclose(np.abs((t * path.tangent(nearest)).sum(axis=1)), 1, atol=2e-4)


def test_beside_a_bend_arcs_stay_arcs_with_the_radius_that_is_left():
    flat = through_points(np.array([(0, 0, 0), (100, 0, 0), (100, 80, 0.0)]), [20] * 3, False).path
    sides = sorted(beside(flat, 5, a).pieces[1].radius for a in (0, math.pi / 2, math.pi, -math.pi / 2))
    inner_outer = [r for r in sides if abs(r - 20) > 1e-9]
    assert all(isinstance(p, ArcPiece) for p in (beside(flat, 5, 0.3).pieces[1],))
    assert {round(r, 9) for r in inner_outer} <= {15.0, 25.0}


def test_what_folds_or_gapes_is_refused_with_its_place():
    flat = through_points(np.array([(0, 0, 0), (100, 0, 0), (100, 80, 0.0)]), [20] * 3, False).path
    with pytest.raises(Problem) as caught:
        [beside(flat, 21, a) for a in np.linspace(0, 2 * math.pi, 9)]
    assert caught.value.message.code == "fold"
    assert "20 mm" in caught.value.message.text
    assert 80 <= caught.value.message.place["station"] <= 80 + 20 * math.pi / 2
    report, _ = derived({"by": "beside", "distance": 5}, polyline((0, 0), (50, 0), (50, 40)))
    assert report.messages[0].code == "corner"
    assert "50 mm" in report.messages[0].text


def test_a_piece_is_taken_by_length_share_plane_and_from_the_end():
    _, whole = derived({"by": "piece"})
    for how, a, b in (
        ({"start": 10, "end": 60}, 10, 60),
        ({"start": 0.25, "end": 0.5, "measure": "ratio"}, 0.25 * whole.length, 0.5 * whole.length),
        ({"end": 30, "from_end": True}, whole.length - 30, whole.length),
        ({"start": 5, "end": 30, "from_end": True}, whole.length - 30, whole.length - 5),
    ):
        report, made = derived({"by": "piece", **how})
        assert made.length == pytest.approx(b - a)
        assert np.allclose(made.point(np.array([0.0])), whole.point(np.array([a])), atol=1e-9)
        assert report.figure.startswith("piece, ")
    _, cut = derived({"by": "piece", "cut_start": YZ}, curve((-40, 0), (20, 15), (80, 0)))
    assert cut.point(np.zeros(1))[0][0] == pytest.approx(0, abs=1e-9)
    assert cut.point(np.array([cut.length]))[0] == pytest.approx([80, 0, 0])
    assert derived({"by": "piece", "start": 500})[0].messages[0].code == "off-path"
    assert derived({"by": "piece", "cut_end": XY}, polyline((0, 5), (50, 5)))[0].messages[0].code == "plane-misses"


def test_copies_are_mirrored_turned_and_moved():
    _, whole = derived({"by": "piece"})
    s = np.linspace(0, whole.length, 25)
    _, image = derived({"by": "mirror", "plane": YZ})
    assert np.allclose(image.point(s), whole.point(s) * [-1, 1, 1])
    _, moved = derived({"by": "move", "dx": 5, "dz": -2, "axis": "Z", "turn": 90})
    p = whole.point(s)
    assert np.allclose(moved.point(s), np.stack([-p[:, 1] + 5, p[:, 0], p[:, 2] - 2], axis=1), atol=1e-12)
    for image in (moved_path(FREE, np.eye(3), np.ones(3)), mirrored_path(FREE, BENT.plane_at(3))):
        u = np.linspace(0, image.length, 30)
        h = 1e-5
        slope = (image.point(u[1:-1] + h) - image.point(u[1:-1] - h)) / (2 * h)
        assert np.allclose(slope, image.tangent(u[1:-1]), atol=1e-7)
        assert np.allclose(np.linalg.norm(image.curvature(u), axis=1), np.linalg.norm(FREE.curvature(u), axis=1))
        n = image.normal(u)
        assert np.allclose((n * image.tangent(u)).sum(axis=1), 0, atol=1e-9)
        turning = (
            np.diff(n, axis=0)
            - image.tangent(u[:-1]) * (np.diff(n, axis=0) * image.tangent(u[:-1])).sum(axis=1)[:, None]
        )
        assert np.linalg.norm(turning, axis=1).max() < 0.2
