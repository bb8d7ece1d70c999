"""General tolerances by ISO 2768-1, and what sheets say of them."""

import pytest

from leadline.core.trades.general_tolerance import GRADES, UP_TO, general_tolerance
from leadline.recipe.build import Memory
from leadline.recipe.sheets import as_json, make_sheet
from tests.core.parts import demo


@pytest.mark.parametrize(
    ("size", "f", "m", "c", "v"),
    [
        (0.4, None, None, None, None), (0.5, 0.05, 0.1, 0.2, None), (3, 0.05, 0.1, 0.2, None), (3.01, 0.05, 0.1, 0.3, 0.5), (6, 0.05, 0.1, 0.3, 0.5),
        (20, 0.1, 0.2, 0.5, 1), (30.5, 0.15, 0.3, 0.8, 1.5), (400, 0.2, 0.5, 1.2, 2.5), (1000, 0.3, 0.8, 2, 4), (1500, 0.5, 1.2, 3, 6),
        (3000, None, 2, 4, 8), (4000.1, None, None, None, None),
    ],
)  # fmt: skip
def test_the_table_of_the_standard(size, f, m, c, v):
    assert [general_tolerance(size, grade) for grade in GRADES] == [f, m, c, v]


def test_a_coarser_class_and_a_greater_length_never_allow_less():
    sizes = [s for limit in UP_TO for s in (limit * 0.999, limit, limit * 1.001)][:-1]
    rows = [[t for s in sizes if (t := general_tolerance(s, g)) is not None] for g in GRADES]
    assert all(row == sorted(row) for row in rows)
    for size in sizes:
        allowed = [t for g in GRADES if (t := general_tolerance(size, g)) is not None]
        assert allowed == sorted(allowed)


def test_a_sheet_says_by_how_much_its_sizes_may_be_off():
    part = demo("suction-riser")
    step = next(s.id for s in part.steps if s.kind == "route")
    sheet = make_sheet(part, step, "bends", Memory())
    told = as_json(sheet, "m")
    assert len(told["rows"]) == len(told["tolerances"]["rows"]) > 1
    for row, off in zip(told["rows"], told["tolerances"]["rows"], strict=True):
        assert off == {k: general_tolerance(row[k], "m") for k in ("feed", "radius")}
    assert told["tolerances"]["fields"] == {"last": general_tolerance(told["last"], "m")}
    assert as_json(sheet)["tolerances"] == {"rows": [{}] * len(told["rows"]), "fields": {}}
