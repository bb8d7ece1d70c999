"""Units, expressions, named values."""

import contextlib
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.core.units import format_angle, format_length
from leadline.core.values import Scope, evaluate_values


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
        ("2 mm * 3 mm", "wrong-unit"),
        ("30 deg", "wrong-unit"),
        ("9**9**9", "bad-power"),
        ("sqrt(0-4)", "bad-root"),
        ("nan", "unknown-name"),
        (float("nan"), "not-finite"),
        (float("inf"), "not-finite"),
        ("1e999", "not-finite"),
        ("2 +", "unreadable"),
        ("'a'*9", "not-a-number"),
        ("1+" * 200 + "1", "too-long"),
        (True, "not-a-number"),
    ],
)
def test_bad_expressions_say_field_and_reason(text, code):
    with pytest.raises(Problem) as caught:
        Scope().evaluate(text, "length", "Wall", "sweep1")
    message = caught.value.message
    assert message.code == code
    assert message.text.startswith("Wall:")
    assert message.place["field"] == "Wall"
    assert message.way_out


def test_a_circle_of_values_is_named():
    with pytest.raises(Problem, match="circle") as caught:
        evaluate_values([("a", "b + 1"), ("b", "c"), ("c", "a*2")])
    assert {"a", "b", "c"} <= set(caught.value.message.text.replace(".", " ").split())


@pytest.mark.parametrize("name", ["2a", "mm", "sin", "pi", "a b", "", "naïve!"])
def test_unusable_names_are_refused(name):
    with pytest.raises(Problem) as caught:
        evaluate_values([(name, "1")])
    assert caught.value.message.code == "bad-name"


def test_the_same_name_twice_is_refused():
    with pytest.raises(Problem, match="Two values"):
        evaluate_values([("a", "1"), ("a", "2")])


@given(st.floats(-1e6, 1e6), st.sampled_from([("mm", 1.0), ("cm", 10.0), ("in", 25.4), ("ft", 304.8), ("m", 1000.0)]))
def test_any_number_with_any_unit(number, unit):
    name, factor = unit
    assert Scope().evaluate(f"{number!r} {name}", "length") == pytest.approx(number * factor, rel=1e-12)


@given(st.text(max_size=40))
def test_any_text_gives_a_number_or_a_problem(text):
    with contextlib.suppress(Problem):
        assert math.isfinite(Scope().evaluate(text, "length"))


def test_printing():
    assert format_length(12.5) == "12.5 mm"
    assert format_length(25.4, "in") == "1 in"
    assert format_length(412345.6) == "412346 mm"
    assert format_length(0) == "0 mm"
    assert format_angle(math.pi / 3) == "60°"
