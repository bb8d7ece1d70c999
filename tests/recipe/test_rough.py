"""What is told of a sweep while a hand moves: few stations, but the shape, and roughly its numbers."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.laws import Even
from leadline.core.geometry.mesh_booleans import as_manifold
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.sweep.fold import folds
from leadline.core.sweep.grid import ROUGH_POINTS, rough_mesh
from leadline.core.sweep.motion import ROUGH_MOST, Motion
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from
from leadline.recipe.preview import preview_step
from leadline.recipe.products import Swept
from tests.support.fuzzing import DEMOS
from tests.support.parts import SHARED
from tests.support.shapes import box


@pytest.mark.parametrize("document", DEMOS, ids=lambda d: d["name"])
def test_rough_shapes_of_the_demo_parts_are_those_of_the_whole_ones(document):
    part, products = part_from(document), {}
    result = build(part, SHARED, quick=True, products=products)
    for step, plan in [(s, p) for s, p in products.items() if isinstance(p, Swept)]:
        full = result.reports[step].data
        moving = preview_step(part, step, Memory(), moving=True)
        assert (moving.report.state, moving.report.figure) == ("fresh", result.reports[step].figure)
        told = moving.report.data["numbers"]
        assert told["length"] == full["numbers"]["length"]
        assert (told["volume"], told["area"]) == pytest.approx(
            (full["numbers"]["volume"], full["numbers"]["area"]), rel=2e-3
        )
        assert len(moving.report.data["lanes"]["station"]) <= max(150, len(full["lanes"]["station"]))
        mesh = rough_mesh(plan.motion, plan.regions, plan.owner)
        assert len(mesh.points) < 1.5 * ROUGH_POINTS  # caps have points of their own
        few = rough_mesh(plan.motion, plan.regions, plan.owner, 2000)
        assert len(few.points) <= len(mesh.points)
        if all(not r.sheet for r in plan.regions):
            solid = as_manifold(mesh)
            assert solid is not None
            many = (
                abs(plan.motion.turns) > 10
            )  # of the rope 33 turns are twist, and its strands are drawn as hexagons then
            assert solid.volume() == pytest.approx(plan.volume, rel=0.35 if many else 0.05)


@settings(max_examples=30)
@given(length=st.floats(5, 5000), turns=st.floats(-300, 300), side=st.floats(1, 60))
def test_rough_stations_are_few_and_even_in_the_turn(length, turns, side):
    path = Path([LinePiece(np.zeros(3), np.array([0.0, 0.0, length]))], up=np.array([1.0, 0, 0]))
    motion = Motion(path, Even(0.0, 2 * np.pi * turns / length))
    s, frames = motion.rough()
    assert 20 <= len(s) <= ROUGH_MOST + 1
    assert (s[0], s[-1]) == (0.0, length)
    assert np.ptp(np.diff(s)) < 1e-6 * length
    assert np.allclose(frames.P[:, 2], s)
    few, _ = motion.rough(30)
    assert len(few) <= 30
    assert (folds(motion, box(side, side).hull(), rough=True) == []) is (folds(motion, box(side, side).hull()) == [])
