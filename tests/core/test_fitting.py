"""Splines over the stretches of a motion: exact at their ends, within the tolerance between, straight where what they are of is."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.core.sweep.fitting import FEWEST, splines


@given(
    st.lists(st.sampled_from([0.0, 0.5, 2.0, 9.0]), min_size=1, max_size=5), st.floats(0.5, 3), st.sampled_from([1e-3, 1e-5, 1e-7]), st.integers(6, 20),
)  # fmt: skip
def test_each_stretch_is_held_to_the_tolerance(waves, length, tolerance, nodes):
    """Each stretch is a wave of its own, or a straight line; all are asked for in few questions."""
    starts = np.concatenate([[0.0], np.cumsum(np.full(len(waves), length))])
    cuts = np.column_stack([starts[:-1], starts[1:]])
    phases = np.concatenate([[0.0], np.cumsum(np.array(waves) * length)])
    asked = []

    def phase(s):
        return np.interp(s, starts, phases)

    def read(s):
        asked.append(len(s))
        return np.column_stack([s, np.sin(phase(s)), np.cos(phase(s))])

    def slopes(s):
        pace = np.repeat(waves, 2)[np.flatnonzero(np.repeat(np.array(waves) != 0, 2))]
        return np.column_stack([np.ones(len(s)), pace * np.cos(phase(s)), -pace * np.sin(phase(s))])

    fits, last = splines(read, slopes, cuts, np.array([1.0]), tolerance, nodes)
    for (a, b), wave, fit in zip(cuts, waves, fits, strict=True):
        s = np.linspace(a, b, 301)
        assert np.abs(fit(s) - read(s)).max() < 2 * tolerance  # they are told from the places midway alone
        assert fit([a, b]) == pytest.approx(read(np.array([a, b])), abs=1e-12)
        assert (fit.k == 1) == (wave == 0)
    assert last >= nodes
    counts = [len(fit.c) for fit in fits if fit.k == 5]
    assert counts == sorted(counts)  # none has fewer nodes than one before it


def test_what_cannot_be_held_is_refused_by_place():
    with pytest.raises(Problem) as caught:
        splines(lambda s: np.abs(s - 1.3)[:, None] * [1, 1, 1], lambda s: np.sign(s - 1.3)[:, None] * [1, 1, 1], np.array([[1.0, 2.0]]), np.array([1.0]), 1e-9, FEWEST)
    assert caught.value.message.code == "tolerance"
    assert caught.value.message.place["station"] == 1.0
