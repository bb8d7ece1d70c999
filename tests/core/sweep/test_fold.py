"""The fold test finds every fold, however short, and the contact test the true depth of every crossing."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import make_interp_spline

from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece, SplinePiece
from leadline.core.sweep.contact import self_touch
from leadline.core.sweep.fold import bend_use, fold_messages, folds
from leadline.core.sweep.motion import Motion
from tests.support.motions import ellipse
from tests.support.shapes import X, Z, arc, box, disc, planar_spline, space_spline


@pytest.mark.parametrize("turns", [1, 16, 32, 33, 64, 100.5])
def test_a_square_bar_that_folds_by_its_corners_folds_however_it_is_twisted(turns):
    """Its corner, 21.2 mm out, passes the inner side of a bend of 20 mm four times a turn; its sides, 15 mm out, do
    not.
    """
    found = folds(Motion(arc(20, math.pi), turns), box(30, 30).hull())
    assert len(found) >= 2 * turns if turns > 1 else found
    assert max(f.reach for f in found) == pytest.approx(15 * math.sqrt(2), rel=1e-6)
    assert len(fold_messages(Motion(arc(20, math.pi), turns), box(30, 30).hull())) <= 12
    assert folds(Motion(arc(22, math.pi), turns), box(30, 30).hull()) == []


@settings(max_examples=25, deadline=None)
@given(st.floats(2, 60), st.floats(0.02, 0.9), st.floats(0.5, 1.5))
def test_the_tip_of_an_ellipse_is_found_however_sharp(a, share, use):
    b = a * share
    least = b * b / a
    path = ellipse(a, b, 0.3, 5.4, Z)
    found = folds(Motion(path), disc(least * use).hull())
    assert bool(found) == (use > 1) or abs(use - 1) < 1e-6
    if found:
        assert min(f.radius for f in found) == pytest.approx(least, rel=1e-4)


@settings(max_examples=25, deadline=None)
@given(st.sampled_from([planar_spline, space_spline]), st.floats(-1e-3, 1e-3).filter(lambda v: abs(v) > 1e-5))
def test_folds_are_found_to_a_hair_over_the_limit(make, over):
    path = make()
    s = np.linspace(0, path.length, 200_001)
    least = 1 / np.linalg.norm(path.curvature(s), axis=1).max()
    found = folds(Motion(path), disc(least * (1 + over)).hull())
    assert bool(found) == (over > 0)


def test_the_tightest_use_is_that_of_a_very_fine_look():
    motion = Motion(space_spline(), 7.3)
    hull = box(9, 4).hull()
    fine = bend_use(motion.frames(np.linspace(0, motion.length, 100_001)), hull).max()
    wider = box(9 / fine * 1.0001, 4 / fine * 1.0001)
    assert folds(motion, wider.hull())


def crossing_path(angle: float, gap: float) -> Path:
    """A way out, a wide turn, and back across it under an angle, so far above it."""
    back = np.array([math.cos(angle), math.sin(angle), 0])
    start = 60 * back + gap * Z
    points = np.array(
        [60 * X, 90 * X + 0.4 * gap * Z, 100 * back + 40 * (X + back) + 0.6 * gap * Z, 90 * back + gap * Z, start]
    )
    curve = make_interp_spline([0, 1, 2, 3, 4], points, k=3, bc_type=([(1, 40 * X)], [(1, -40 * back)]))
    return Path(
        [LinePiece(-80 * X, 60 * X, "out"), SplinePiece(curve, "turn"), LinePiece(start, -80 * back + gap * Z, "back")]
    )


@settings(max_examples=30, deadline=None)
@given(st.floats(0.5, 2.6), st.floats(0, 9), st.floats(1, 5))
def test_a_path_that_crosses_itself_is_told_with_its_true_depth(angle, gap, radius):
    (message, *_) = self_touch(Motion(crossing_path(angle, gap)), disc(radius).hull()) or (None,)
    if 2 * radius <= gap + 1e-6:
        assert message is None
        return
    assert message is not None
    apart, depth = (
        float(v) for v in re.search(r"within (\S+) mm of itself.*overlap by (\S+) mm", message.text).groups()
    )
    assert apart == pytest.approx(gap, abs=1e-3 + 1e-4 * gap)
    assert depth == pytest.approx(2 * radius - gap, rel=2e-3, abs=2e-3)
