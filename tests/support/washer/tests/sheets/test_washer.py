"""The washer's sheet."""

from __future__ import annotations

import pytest

from leadline.core.problems import Problem
from leadline.recipe.build import Memory
from leadline.recipe.sheets import as_json, make_sheet
from tests.kinds.washer.test_washer import washer
from tests.support.parts import bar, part


def test_it_tells_two_figures():
    told = as_json(make_sheet(part(washer(outer=20, inner=8, thickness=3)), "washer", "washer", Memory()))
    assert (told["rows"], told["rim"], told["thickness"]) == ([], pytest.approx(6), pytest.approx(3))


def test_what_is_no_washer_has_none():
    with pytest.raises(Problem, match="washer"):
        make_sheet(part(bar()), "sweep", "washer", Memory())
