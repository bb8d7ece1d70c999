"""General tolerances by ISO 2768-1, and what sheets say of them."""

import io
from itertools import pairwise

import pypdf
import pytest

from leadline.core.trades.general_tolerance import GRADES, UP_TO, general_angle_tolerance, general_tolerance
from leadline.exports.sheet_pdf import Heading, sheet_pdf
from leadline.recipe.build import Memory
from leadline.recipe.sheets import as_json, make_sheet
from tests.support.parts import demo


@pytest.mark.parametrize(
    ("size", "f", "m", "c", "v"),
    [
        (0.4, None, None, None, None),
        (0.5, 0.05, 0.1, 0.2, None),
        (3, 0.05, 0.1, 0.2, None),
        (3.01, 0.05, 0.1, 0.3, 0.5),
        (6, 0.05, 0.1, 0.3, 0.5),
        (20, 0.1, 0.2, 0.5, 1),
        (30.5, 0.15, 0.3, 0.8, 1.5),
        (400, 0.2, 0.5, 1.2, 2.5),
        (1000, 0.3, 0.8, 2, 4),
        (1500, 0.5, 1.2, 3, 6),
        (3000, None, 2, 4, 8),
        (4000.1, None, None, None, None),
    ],
)
def test_the_table_of_the_standard(size, f, m, c, v):
    assert [general_tolerance(size, grade) for grade in GRADES] == [f, m, c, v]


@pytest.mark.parametrize(
    ("leg", "f", "m", "c", "v"),
    [
        (0, 60, 60, 90, 180),
        (10, 60, 60, 90, 180),
        (10.1, 30, 30, 60, 120),
        (50, 30, 30, 60, 120),
        (120, 20, 20, 30, 60),
        (121, 10, 10, 15, 30),
        (400, 10, 10, 15, 30),
        (401, 5, 5, 10, 20),
        (9000, 5, 5, 10, 20),
    ],
)
def test_the_table_of_angles(leg, f, m, c, v):
    assert [60 * general_angle_tolerance(leg, grade) for grade in GRADES] == [f, m, c, v]


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
        assert {k: off[k] for k in ("feed", "radius")} == {
            k: general_tolerance(row[k], "m") for k in ("feed", "radius")
        }
    straights = [*(row["feed"] for row in told["rows"]), told["last"]]
    legs = [min(pair) for pair in pairwise(straights)]
    assert [off["angle"] for off in told["tolerances"]["rows"]] == [general_angle_tolerance(leg, "m") for leg in legs]
    assert "leg" not in told["rows"][0].keys() | told["columns"].keys()
    assert told["tolerances"]["fields"] == {"last": general_tolerance(told["last"], "m")}
    assert as_json(sheet)["tolerances"] == {"rows": [{}] * len(told["rows"]), "fields": {}}


def test_a_printed_sheet_says_angles_in_degrees_and_minutes():
    part = demo("suction-riser")
    step = next(s.id for s in part.steps if s.kind == "route")
    sheet = make_sheet(part, step, "bends", Memory())
    heading = Heading("Bends", "Riser", "Route", 1, "2031-04-02", "", "m")
    text = "".join(
        page.extract_text() for page in pypdf.PdfReader(io.BytesIO(sheet_pdf(sheet, heading, [], "mm"))).pages
    )
    for row in sheet.rows:
        degrees, minutes = divmod(round(60 * general_angle_tolerance(row.leg, "m")), 60)
        assert f"±{degrees}°{minutes}'" in text
