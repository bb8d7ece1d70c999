"""What the tolerances of a spring's sizes make of its rate and its forces: against closed forms, and against springs
within the tolerances.
"""

import io

import pypdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.trades.general_tolerance import general_tolerance
from leadline.exports.sheet_pdf import Heading, sheet_pdf
from leadline.recipe.build import Memory
from leadline.recipe.sheets import as_json, make_sheet
from tests.support.springs import built, document, refused, spring

G = 81500.0
OFF = {"wire": 0.02, "diameter": 0.2, "turns": 0.1, "free": 0.5}
AT = [{"id": "a", "by": "length", "length": 30}]


def rate(d, mean, n):
    return G * d**4 / (8 * mean**3 * n)


def told(**fields):
    report, _ = built(**fields)
    return report.data["spring"]


def test_a_spring_that_is_pressed():
    """Wire 2, 20 outside, 6 turns, 42 long: the weakest is of thinner wire, wider, with more turns and shorter."""
    spread = told(diameter=20, measured="outer", loads=AT, tolerances=OFF)
    weak, strong = rate(1.98, 20.2 - 1.98, 6.1), rate(2.02, 19.8 - 2.02, 5.9)
    assert spread["rates"] == pytest.approx((weak, strong), rel=1e-9)
    (load,) = spread["loads"]
    assert load["between"] == pytest.approx((weak * 11.5, strong * 12.5), rel=1e-9)
    assert load["force"] == pytest.approx(rate(2, 18, 6) * 12)


def test_a_spring_that_is_pulled_and_one_that_is_turned():
    pulled = {
        "duty": "extension",
        "initial": 5,
        "measured": "mean",
        "loads": [{"id": "a", "by": "length", "length": 60}],
    }
    spread = told(**pulled, tolerances={**OFF, "initial": 1})
    weak, strong = rate(1.98, 16.2, 6.1), rate(2.02, 15.8, 5.9)
    over = 60 - spread["free"]
    assert spread["loads"][0]["between"] == pytest.approx(
        (4 + weak * (over - 0.5), 6 + strong * (over + 0.5)), rel=1e-9
    )
    turned = told(
        duty="torsion", leg_start=20, leg_end=20, loads=[{"id": "a", "by": "angle", "angle": 60}], tolerances=OFF
    )
    weak, strong = ((d**4 / (mean * n)) / (2**4 / (16 * 6)) for d, mean, n in ((1.98, 16.2, 6.1), (2.02, 15.8, 5.9)))
    assert turned["rates"] == pytest.approx((turned["rate"] * weak, turned["rate"] * strong), rel=1e-9)
    (load,) = turned["loads"]
    assert load["between"] == pytest.approx((load["force"] * weak, load["force"] * strong), rel=1e-9)


shares = st.tuples(*[st.floats(-1, 1)] * 4)


@settings(max_examples=25)
@given(
    shares,
    st.floats(0.005, 0.05),
    st.sampled_from(["inner", "mean", "outer"]),
    st.sampled_from(["open", "closed", "ground"]),
    st.sampled_from([{}, {"end_diameter": 24}, {"middle_diameter": 22}, {"pitches": [1, 2, 1]}]),
)
def test_a_spring_within_the_tolerances_has_a_force_between(share, off, measured, ends, shape):
    """Cones, barrels and springs of uneven pitch too, whose turns close one after the other."""
    play = {"wire": 2 * off, "diameter": 20 * off, "turns": 6 * off, "free": 60 * off}
    fields = {
        "wire": 2,
        "diameter": 20,
        "turns": 6,
        "free": 60,
        "measured": measured,
        "ends": ends,
        "loads": [{"id": "a", "by": "length", "length": 40}],
    }
    least, most = told(**fields, **shape, tolerances=play)["loads"][0]["between"]
    moved = {
        name: fields[name] + s * play[name]
        for s, name in zip(share, ("wire", "diameter", "turns", "free"), strict=True)
    }
    shape = {name: v + share[1] * play["diameter"] if name.endswith("diameter") else v for name, v in shape.items()}
    force = told(**{**fields, **moved}, **shape)["loads"][0]["force"]
    assert least - 1e-9 <= force
    assert most is None or force <= most + 1e-9


def test_a_spring_that_may_be_solid_before_its_load_is_said():
    report, _ = built(
        loads=[{"id": "a", "by": "length", "length": 16.1}], tolerances={**OFF, "turns": 0.3, "wire": 0.1}
    )
    (said,) = [m for m in report.messages if m.code == "solid-before"]
    assert "load 1" in said.text
    assert None in report.data["spring"]["loads"][0]["between"]


def test_tolerances_that_are_none_are_refused_and_none_are_told_where_none_are_given():
    assert refused("bad-size", tolerances={"wire": -0.1}).place["field"] == "tolerances"
    assert "off by all that they may" in refused("bad-size", turns=0.5, tolerances={"turns": 0.45}).text
    plain = told(loads=AT)
    assert plain["rates"] is None
    assert plain["loads"][0]["between"] is None


def test_the_sheet_tells_the_spread():
    sheet = as_json(make_sheet(document(spring(loads=AT, tolerances=OFF)), "s", "spring", Memory()))
    (row,) = sheet["rows"]
    assert row["least"] < row["force"] < row["most"]
    assert sheet["least_rate"] < sheet["rate"] < sheet["most_rate"]
    assert sheet["columns"]["least"]["title"] == "Least"


@pytest.mark.parametrize("grade", [None, "m"])
def test_its_own_tolerances_stand_in_the_sheet_before_the_general_ones(grade):
    """The mean diameter is given: none holds for the outer one beside it."""
    sheet = make_sheet(document(spring(loads=AT, tolerances=OFF)), "s", "spring", Memory())
    off = as_json(sheet, grade)["tolerances"]["fields"]
    assert off == {"wire": 0.02, "mean": 0.2, "active": 0.1, "free": 0.5}
    plain = make_sheet(document(spring(loads=AT, tolerances={"wire": 0.02})), "s", "spring", Memory())
    general = {} if grade is None else {"outer": general_tolerance(18, "m"), "free": general_tolerance(42, "m")}
    assert as_json(plain, grade)["tolerances"]["fields"] == {"wire": 0.02} | general
    assert "own_tolerances" not in as_json(sheet)
    text = (
        pypdf.PdfReader(io.BytesIO(sheet_pdf(sheet, Heading("Spring", "P", "S", 1, "2031-04-02", "", grade), [], "mm")))
        .pages[0]
        .extract_text()
    )
    assert "42 ±0.5 mm" in text
    assert "6 ±0.1" in text
