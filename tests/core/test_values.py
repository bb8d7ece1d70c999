"""Units, expressions, named values."""

import contextlib
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.core.units import format_angle, format_length
from leadline.core.values import Quantity, Scope, evaluate_values


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("12", "length", 12.0),
        (12, "length", 12.0),
        ("3/8 in", "length", 9.525),
        ("12 + 3in", "length", 88.2),
        ("2*(1 cm + 5)", "length", 30.0),
        ("90", "angle", math.pi / 2),
        ("0.25 turn", "angle", math.pi / 2),
        ("90 deg", "turns", 0.25),
        ("3", "turns", 3.0),
        ("sin(30 deg)*2", "number", 1.0),
        ("sqrt(9 mm * 4 mm)", "length", 6.0),
        ("max(2 mm, 0.1 in)", "length", 2.54),
        ("-2^2 + 5", "number", 1.0),
        ("(2+1) mm", "length", 3.0),
        ("10*cos(pi/3 rad)", "number", 5.0),
        ("2^0.5 mm", "length", math.sqrt(2)),
        ("5 mm^2/1 mm", "length", 5.0),
        ("10/2/5 mm", "length", 1.0),
        ("10 mm/5 mm", "number", 2.0),
        ("(5 mm)^2/5 mm", "length", 5.0),
        ("sqrt(2)/2 in", "length", math.sqrt(2) * 12.7),
        ("2*pi/3 rad", "angle", math.tau / 3),
        ("-2 mm*3", "length", -6.0),
    ],
)
def test_expressions(text, kind, value):
    assert Scope().evaluate(text, kind) == pytest.approx(value, rel=1e-12)


def test_a_bare_number_takes_the_unit_of_the_part():
    assert Scope("in").evaluate("2", "length") == pytest.approx(50.8)
    assert Scope("in").evaluate("2 mm + 1", "length") == pytest.approx(27.4)


def test_names_are_found_whatever_letters_they_end_in():
    scope = evaluate_values([("film", "2"), ("x2m", "3"), ("bin", "film*2")])
    assert scope.evaluate("film + x2m + bin", "length") == pytest.approx(9.0)
    assert scope.evaluate("film mm", "length") == pytest.approx(2.0)


def test_named_values_may_use_each_other_in_any_order():
    scope = evaluate_values([("outside", "bore + 2*wall"), ("wall", "1.5 mm"), ("bore", "1/2 in")])
    assert scope.evaluate("outside", "length") == pytest.approx(15.7)


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("", "empty"),
        ("5 furlong", "unknown-unit"),
        ("nope + 1", "unknown-name"),
        ("__import__('os').system('true')", "not-allowed"),
        ("().__class__", "not-allowed"),
        ("[1, 2]", "not-allowed"),
        ("1/0", "division"),
        ("2 mm + 3 deg", "unit-mix"),
        ("12 mm*3/4 mm", "unit-ambiguous"),
        ("5 mm mm", "unit-twice"),
        ("2 @ 3", "not-allowed"),
        ("2 mm * 3 mm", "wrong-unit"),
        ("30 deg", "wrong-unit"),
        ("9**9**9", "bad-power"),
        ("sqrt(0-4)", "bad-root"),
        ("nan", "unknown-name"),
        (float("nan"), "not-finite"),
        (float("inf"), "not-finite"),
        ("1e999", "not-finite"),
        ("2 +", "unreadable"),
        ("'a'*9", "not-allowed"),
        ("1+" * 200 + "1", "too-long"),
        ("f'{1:999999999}'", "not-allowed"),
        ("2*f'{9:>999999999}'", "not-allowed"),
        (True, "not-a-number"),
    ],
)
def test_bad_expressions_say_field_and_reason(text, code):
    with pytest.raises(Problem) as caught:
        Scope().evaluate(text, "length", "Wall", field="wall", step="sweep1")
    message = caught.value.message
    assert message.code == code
    assert message.text.startswith("Wall:")
    assert message.place == {"field": "wall", "step": "sweep1"}
    assert message.way_out


def test_a_circle_of_values_is_named():
    scope = evaluate_values([("a", "b + 1"), ("b", "c"), ("c", "a*2"), ("d", "4"), ("e", "d*2")])
    assert set(scope.failed) == {"a", "b", "c"}
    text = scope.failed["a"].message.text
    assert "circle" in text
    assert {"a", "b", "c"} <= set(text.replace(".", " ").split())
    assert scope.evaluate("e", "length") == 8


@pytest.mark.parametrize("name", ["2a", "mm", "sin", "pi", "a b", "", "naïve!"])
def test_unusable_names_are_refused(name):
    scope = evaluate_values([(name, "1"), ("good", "2")])
    assert scope.failed[name].message.code == "bad-name"
    assert scope.evaluate("good", "number") == 2


def test_the_same_name_twice_is_refused():
    scope = evaluate_values([("a", "1"), ("a", "2"), ("b", "3")])
    assert scope.failed["a"].message.text == "Two values are called “a”."
    assert scope.evaluate("b", "number") == 3


def test_a_bad_value_fails_what_uses_it_and_hides_no_other():
    scope = evaluate_values([("bad", "1 furlong"), ("on_it", "bad*2"), ("good", "3"), ("better", "good + 1")])
    assert {n: p.message.code for n, p in scope.failed.items()} == {"bad": "unknown-unit", "on_it": "bad-value"}
    assert scope.evaluate("better", "length") == 4
    with pytest.raises(Problem, match="“bad” that it uses has none"):
        scope.evaluate("good + bad", "length")


@given(st.floats(-1e6, 1e6), st.sampled_from([("mm", 1.0), ("cm", 10.0), ("in", 25.4), ("ft", 304.8), ("m", 1000.0)]))
def test_any_number_with_any_unit(number, unit):
    name, factor = unit
    assert Scope().evaluate(f"{number!r} {name}", "length") == pytest.approx(number * factor, rel=1e-12)


@given(st.text(max_size=40))
def test_any_text_gives_a_number_or_a_problem(text):
    with contextlib.suppress(Problem):
        assert math.isfinite(Scope().evaluate(text, "length"))


def test_printing():
    assert format_length(12.5, "mm") == "12.5 mm"
    assert format_length(25.4, "in") == "1 in"
    assert format_length(412345.6, "mm") == "412346 mm"
    assert format_length(0, "mm") == "0 mm"
    assert format_angle(math.pi / 3) == "60°"


BENCH = Scope("mm", {"wall": Quantity(2.0, length=1), "n": Quantity(3.0)})


@pytest.mark.parametrize(
    ("text", "value", "length", "angle"),
    [
        ("(2 mm)^2/1 mm", 4, 1, 0),
        ("10 mm/2 mm", 5, 0, 0),
        ("3/8 in", 9.525, 1, 0),
        ("1 3/8 in", 34.925, 1, 0),
        ("n/2 mm", 1.5, 1, 0),
        ("5' 3 1/2\"", 63.5 * 25.4, 1, 0),
        ("5'", 1524, 1, 0),
        ("5'-3\"", 1600.2, 1, 0),
        ('7/8"', 22.225, 1, 0),
        ("(1+2) mm", 3, 1, 0),
        ("abs(0-3 mm)", 3, 1, 0),
        ("floor(12.7 mm)", 12, 1, 0),
        ("ceil(12.2)", 13, 0, 0),
        ("ceil(3)", 3, 0, 0),
        ("round(12.3 mm, 0.5 mm)", 12.5, 1, 0),
        ("floor(0.3/0.1)", 3, 0, 0),
        ("asin(0.5)", math.pi / 6, 0, 1),
        ("acos(0)", math.pi / 2, 0, 1),
        ("atan2(3 mm, 4 mm)", math.atan2(3, 4), 0, 1),
        ("max(1 mm, wall)", 2, 1, 0),
        ("2*wall^2/wall", 4, 1, 0),
    ],
)
def test_expressions_mean_what_they_read_as(text, value, length, angle):
    found = BENCH.quantity(text)
    assert found.value == pytest.approx(value)
    assert (found.length, found.angle) == (length, angle)


@pytest.mark.parametrize(
    "text",
    [
        "1 < 2",
        "f'{1}'",
        "1e3 < 2",
        "sin(3 mm)",
        "asin(2 mm)",
        "atan2(1, 2 mm)",
        "[x for x in 'a']",
        "lambda: 1",
        "1 if 1 else 2",
        "asin(2)",
    ],
)
def test_what_is_no_arithmetic_or_of_the_wrong_kind_is_refused(text):
    with pytest.raises(Problem):
        BENCH.quantity(text)


@given(st.integers(0, 20), st.integers(0, 11), st.integers(0, 15))
def test_feet_and_inches_in_sixteenths(feet, inches, sixteenths):
    text = f"{feet}' {inches} {sixteenths}/16\""
    assert BENCH.evaluate(text, "length") == pytest.approx((feet * 12 + inches + sixteenths / 16) * 25.4)


def test_rounding_follows_the_part_s_unit():
    assert Scope("in").evaluate("round(1.4 in)", "length") == pytest.approx(25.4)
