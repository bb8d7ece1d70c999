"""Pegs, against closed forms."""

from __future__ import annotations

import math
from typing import Any

import pytest

from leadline.recipe.build import build
from tests.support.parts import XY, part


def peg(**fields: Any) -> dict[str, Any]:
    step = {"kind": "peg", "id": "peg", "name": "Peg", "plane": XY, **fields}
    return {"format": "leadline-part", "version": 1, "name": "Pegs", "units": "mm", "steps": [step]}


@pytest.mark.parametrize("side", ["along", "against"])
@pytest.mark.parametrize("hollow", [False, True])
def test_it_is_as_large_as_it_says_and_stands_on_its_plane(side, hollow):
    result = build(part(peg(diameter="2 cm", height=30, side=side, hollow=hollow)))
    (kept,) = result.bodies
    radii = (10, 8 if hollow else 0)
    assert kept.body.volume() == pytest.approx(math.pi * (radii[0] ** 2 - radii[1] ** 2) * 30, rel=1e-9)
    assert kept.body.centre()[2] == pytest.approx(15 if side == "along" else -15, abs=1e-9)


@pytest.mark.parametrize("field", ["diameter", "height"])
def test_what_has_no_size_is_refused_at_its_field(field):
    report = build(part(peg(**{field: 0}))).reports["peg"]
    assert report.state == "failed"
    assert report.messages[0].place["field"] == field
