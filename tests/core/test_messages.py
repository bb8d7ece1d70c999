"""Messages keep their quantities as numbers; they become text at the edge, in the unit that is asked for."""

from __future__ import annotations

import ast
import copy
import math
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.problems import Message, Problem, Remedy, at_most, degrees, mm, restored, told_in, written
from leadline.recipe.build import build
from tests.support.parts import XY, bar, circle, part, polyline, sketch, step

SOURCES = sorted(Path(__file__).resolve().parents[2].glob("src/leadline/**/*.py"))
SIZES = st.floats(-1e7, 1e7, allow_nan=False)
WORDS = st.text(st.characters(exclude_characters="\x02\x03", exclude_categories=["Cs"]), max_size=12)


@given(st.lists(st.tuples(WORDS, SIZES, st.sampled_from([mm, degrees])), max_size=5))
def test_a_text_is_taken_apart_into_its_template_and_its_quantities(parts):
    remedies = tuple(Remedy(f"{words}{mark(value)}", {"size": value}) for words, value, mark in parts)
    message = Message("note", "any", "".join(words + mark(value) for words, value, mark in parts), remedies=remedies)
    assert [q["measure"] for q in message.quantities] == ["length" if mark is mm else "angle" for _, _, mark in parts]
    for quantity, (_, value, mark) in zip(message.quantities, parts, strict=True):
        assert quantity["value"] == (value if mark is mm else math.degrees(value))
    assert message.template == "".join(f"{words}{{{i}}}" for i, (words, _, _) in enumerate(parts))
    assert restored(message.stored()) == message


@given(SIZES, SIZES)
def test_lengths_are_told_in_the_unit_that_is_asked_for_and_angles_in_degrees(length, angle):
    message = Message("note", "any", f"It is {mm(length, 17)} long at {degrees(angle, 17)}.", f"Give {mm(length, 17)}.")
    for unit, size in (("mm", 1.0), ("in", 25.4)):
        said, turned = re.fullmatch(rf"It is (.+) {unit} long at (.+)°\.", message.as_dict(unit)["text"]).groups()
        assert float(said) * size == pytest.approx(length, rel=1e-9, abs=1e-4)
        assert float(turned) == pytest.approx(math.degrees(angle), rel=1e-9, abs=1e-4)
        assert message.as_dict(unit)["way_out"] == f"Give {said} {unit}."


def test_what_is_said_of_something_else_keeps_quantities_code_and_place():
    inner = Problem("gap", f"There is a gap of {mm(25.4)}.", f"Close {mm(50.8)}.", station=3.0)
    outer = inner.after("“Path”: ", source="path").message
    assert outer.as_dict("in")["text"] == "“Path”: There is a gap of 1 in."
    assert outer.as_dict("in")["way_out"] == "Close 2 in."
    assert (outer.code, outer.place) == ("gap", {"station": 3.0, "source": "path"})
    assert str(inner) == "There is a gap of 25.4 mm."


def test_a_problem_of_a_part_is_told_in_its_unit():
    with pytest.raises(Problem) as raised, told_in("in"):
        raise Problem("any", f"{mm(25.4)}")
    assert raised.value.message.as_dict(raised.value.unit)["text"] == "1 in"
    assert written("no quantities", "in") == "no quantities"


def test_a_result_tells_its_messages_in_the_part_s_unit_whatever_is_kept():
    """Only the unit of what is told differs: a station of 4 in, in a part of 100 mm."""
    for units, length, said in (("mm", 200, "200 mm"), ("in", "200 mm", "7.874 in")):
        document = {**bar(length=100 if units == "mm" else "100 mm", end=length), "units": units}
        (message,) = build(part(document)).as_dict()["steps"]["sweep"]["messages"]
        assert said in message["text"]
        assert message["quantities"][-1]["measure"] == "length"


@pytest.mark.parametrize("source", SOURCES, ids=lambda p: p.name)
def test_no_message_is_made_with_a_length_that_is_text_already(source):
    for node in ast.walk(ast.parse(source.read_text())):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("Problem", "Message"):
            used = {n.id for n in ast.walk(node) if isinstance(n, ast.Name)}
            assert not used & {"format_length", "format_angle"}, f"line {node.lineno}"


@given(st.floats(1e-6, 1e6))
def test_what_is_offered_at_most_is_no_more_and_hardly_less(length):
    written_, _, unit = at_most(length).partition(" ")
    assert unit == "mm"
    assert length * (1 - 1.1e-3) <= float(written_) <= length * (1 + 1e-9)


def remedied(document, step_id):
    """The remedies that a part's step is offered, each taken: with the states after it."""
    report = build(part(document)).reports[step_id]
    offered = [r for m in report.messages for r in m.remedies]
    found = {}
    for remedy in offered:
        changed = copy.deepcopy(document)
        step(changed, step_id).update(remedy.change)
        found[written(remedy.marked)] = build(part(changed)).reports[step_id].state
    return found


ANGLED = polyline((0, 0), (80, 0), (80, 60))


@pytest.mark.parametrize(
    ("document", "step_id", "titles"),
    [
        (
            {
                "steps": [
                    sketch("path", XY, ANGLED),
                    {
                        "kind": "sweep",
                        "id": "s",
                        "name": "S",
                        "path": {"step": "path"},
                        "profile": {"quick": "round", "width": 10},
                    },
                ]
            },
            "s",
            ["Mitre the corners", "Round them by 30 mm"],
        ),
        (
            {
                "steps": [
                    sketch("path", XY, ANGLED),
                    {
                        "kind": "sweep",
                        "id": "s",
                        "name": "S",
                        "path": {"step": "path"},
                        "profile": {"quick": "round", "width": 10},
                        "corners": "round",
                        "corner_radius": 70,
                    },
                ]
            },
            "s",
            ["Round them by 30 mm"],
        ),
        (
            {
                "steps": [
                    sketch("path", XY, ANGLED),
                    {
                        "kind": "sweep",
                        "id": "s",
                        "name": "S",
                        "path": {"step": "path"},
                        "profile": {"quick": "round", "width": 30},
                        "corners": "round",
                        "corner_radius": 12,
                    },
                ]
            },
            "s",
            ["Make the section 23.98 mm wide"],
        ),
        (
            {
                "steps": [
                    sketch("path", XY, ANGLED),
                    {
                        "kind": "sweep",
                        "id": "s",
                        "name": "S",
                        "path": {"step": "path"},
                        "profile": {"quick": "round", "width": 5},
                        "corners": "mitre",
                        "result": "cut",
                    },
                ]
            },
            "s",
            ["Make it a separate body"],
        ),
        (
            {
                "steps": [
                    sketch("ring", XY, circle(10)),
                    {"kind": "extrude", "id": "b", "name": "B", "profile": {"step": "ring"}, "length": 30},
                    {
                        "kind": "hollow",
                        "id": "h",
                        "name": "H",
                        "body": "b",
                        "wall": 12,
                        "opened": [{"step": "b", "face": "b/cap/end"}],
                    },
                ]
            },
            "h",
            [None],
        ),
        (
            {
                "steps": [
                    sketch("ring", XY, circle(10)),
                    {"kind": "extrude", "id": "b", "name": "B", "profile": {"step": "ring"}, "length": 30},
                    {
                        "kind": "rounding",
                        "id": "r",
                        "name": "R",
                        "edges": [{"step": "b", "edge": "b/cap/end&b/side/ring/0"}],
                        "how": {"by": "even", "radius": 14},
                    },
                ]
            },
            "r",
            [None],
        ),
    ],
)
def test_a_way_out_that_is_offered_leads_out(document, step_id, titles):
    found = remedied(
        {"format": "leadline-part", "version": 1, "name": "Ways out", "units": "in" if titles == [None] else "mm"}
        | document,
        step_id,
    )
    assert len(found) == len(titles)
    assert titles == [None] or list(found) == titles
    assert set(found.values()) == {"fresh"}
