"""Washers, against closed forms."""

from __future__ import annotations

import math
from typing import Any

import pytest

from leadline.recipe.build import build
from tests.support.parts import XY, part


def washer(**fields: Any) -> dict[str, Any]:
    step = {"kind": "washer", "id": "washer", "name": "Washer", "plane": XY, **fields}
    return {"format": "leadline-part", "version": 1, "name": "Washers", "units": "mm", "steps": [step]}


def test_it_is_as_large_as_it_says_and_lies_on_its_plane():
    (kept,) = build(part(washer(outer="2 cm", inner=8, thickness=3))).bodies
    assert kept.body.volume() == pytest.approx(math.pi * (100 - 16) * 3, rel=1e-9)
    assert list(kept.body.centre()) == pytest.approx([0, 0, 1.5], abs=1e-9)


@pytest.mark.parametrize("fields", [{"outer": 0}, {"inner": 0}, {"thickness": -1}, {"inner": 24}, {"inner": 30}])
def test_what_is_no_ring_is_refused_at_its_field(fields):
    report = build(part(washer(**fields))).reports["washer"]
    assert report.state == "failed"
    assert report.messages[0].place["field"] == next(iter(fields))
