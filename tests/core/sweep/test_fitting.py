"""Splines over the stretches of a motion: exact at their ends, within the tolerance between, straight where what they
are of is, and of hardly more knots than it takes.
"""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import make_lsq_spline

from leadline.core.problems import Problem
from leadline.core.sweep.fitting import splines

NONE = np.zeros(0)


def fitted(read, slopes, cuts, tolerance, breaks=None, kinks=None, weights=(1.0,)):
    none = [NONE] * len(cuts)
    return splines(read, slopes, np.array(cuts), np.array(weights), tolerance, breaks or none, kinks or none)


def least(read, a, b, tolerance):
    """Control points of the quintic of least squares with the fewest even knots that is within a tolerance."""
    s = np.linspace(a, b, 2001)
    for n in range(1, 400):
        t = np.concatenate([[a] * 6, np.linspace(a, b, n + 1)[1:-1], [b] * 6])
        if np.linalg.norm(make_lsq_spline(s, read(s), t, 5)(s) - read(s), axis=1).max() <= tolerance:
            return n + 5
    raise AssertionError


@given(
    st.lists(st.sampled_from([0.0, 0.5, 2.0, 9.0]), min_size=1, max_size=5),
    st.floats(0.5, 3),
    st.sampled_from([1e-3, 1e-5, 1e-7]),
    st.sampled_from([0.0, 1e7]),
)
def test_each_stretch_is_held_to_the_tolerance(waves, length, tolerance, far):
    """Each stretch is a wave of its own, or a straight line, beside the origin or far from it."""
    starts = np.concatenate([[0.0], np.cumsum(np.full(len(waves), length))])
    cuts = np.column_stack([starts[:-1], starts[1:]])
    phases = np.concatenate([[0.0], np.cumsum(np.array(waves) * length)])

    def read(s):
        phase = np.interp(s, starts, phases)
        return np.column_stack([s + far, np.sin(phase), np.cos(phase)])

    def slopes(s):
        phase = np.interp(s, starts, phases)
        pace = np.repeat(waves, 2)[np.flatnonzero(np.repeat(np.array(waves) != 0, 2))]
        return np.column_stack([np.ones(len(s)), pace * np.cos(phase), -pace * np.sin(phase)])

    rounding = 1e-12 + 1e-15 * far
    for (a, b), wave, fit in zip(cuts, waves, fitted(read, slopes, cuts, tolerance), strict=True):
        s = np.linspace(a, b, 1301)
        assert np.linalg.norm(fit(s) - read(s), axis=1).max() < 1.05 * tolerance + 10 * rounding
        assert fit([a, b]) == pytest.approx(read(np.array([a, b])), abs=10 * rounding)
        assert (fit.k == 1) == (wave == 0)
        if wave and not far:
            assert len(fit.c) <= max(1.5 * least(read, a, b, tolerance), 8)


@settings(max_examples=30)
@given(st.floats(0.02, 0.3), st.floats(1.0, 6.0), st.sampled_from([1e-3, 1e-5]))
def test_knots_stand_where_there_is_something_to_follow(width, length, tolerance):
    """A bump on a long way: it takes no more knots the longer the way is."""

    def read(s):
        return np.column_stack([s, np.exp(-((s / width) ** 2)), 0 * s])

    def slopes(s):
        return np.column_stack([np.ones(len(s)), -2 * s / width**2 * np.exp(-((s / width) ** 2)), 0 * s])

    cell = np.linspace(-4 * width, 4 * width, 9)
    (fit,) = fitted(read, slopes, [[-length, length]], tolerance, [cell])
    s = np.linspace(-length, length, 20001)
    assert np.linalg.norm(fit(s) - read(s), axis=1).max() < 1.05 * tolerance
    assert len(fit.c) <= 1.6 * least(read, -4 * width, 4 * width, tolerance) + 8


@pytest.mark.parametrize("tolerance", [1e-4, 1e-7])
def test_a_kink_takes_three_knots_at_one_place(tolerance):
    """Where the third derivative jumps a spline that is smooth to the fourth needs ever more knots; one that is smooth
    to the second none beside.
    """
    where, jump = 0.37, 40.0

    def read(s):
        return np.column_stack([s, np.sin(s) + np.where(s > where, jump * (s - where) ** 3, 0.0), 0 * s])

    def slopes(s):
        return np.column_stack(
            [np.ones(len(s)), np.cos(s) + np.where(s > where, 3 * jump * (s - where) ** 2, 0.0), 0 * s]
        )

    (plain,), (told,) = (
        fitted(read, slopes, [[0.0, 2.0]], tolerance, None, kinks) for kinks in (None, [np.array([where])])
    )
    assert len(told.c) < len(plain.c)
    assert list(told.t).count(where) == 3
    s = np.linspace(0, 2, 4001)
    for fit in (plain, told):
        assert np.linalg.norm(fit(s) - read(s), axis=1).max() < 1.05 * tolerance


def test_stretches_are_asked_for_together():
    """One turn of a coil is as another: each but the first is tried with its knots."""
    asked = []

    def read(s):
        asked.append(len(s))
        return np.column_stack([np.cos(s), np.sin(s), s])

    fits = fitted(
        read,
        lambda s: np.column_stack([-np.sin(s), np.cos(s), np.ones(len(s))]),
        [[2 * math.pi * k, 2 * math.pi * (k + 1)] for k in range(40)],
        1e-5,
    )
    assert len({len(fit.c) for fit in fits}) == 1
    assert len(asked) < 4 * 40


def test_what_cannot_be_held_is_refused_by_place():
    with pytest.raises(Problem) as caught:
        fitted(lambda s: np.sign(s - 1.3)[:, None] * [1, 1, 1], lambda s: np.zeros((len(s), 3)), [[1.0, 2.0]], 1e-9)
    assert caught.value.message.code == "tolerance"
    assert caught.value.message.place["station"] == 1.0
