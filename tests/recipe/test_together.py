"""Previews of what is added, cut and kept in common, by mesh booleans, against the solids that the kernel makes of the
same.
"""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.recipe.build import Memory, build
from leadline.recipe.preview import preview_step
from tests.support.parts import XY, circle, part, polyline, sketch


def block(name, x, y, wide, deep, high, **more):
    drawn = sketch(f"s{name}", XY, polyline((x, y), (x + wide, y), (x + wide, y + deep), (x, y + deep), closed=True))
    return [
        drawn,
        {"kind": "extrude", "id": name, "name": name, "profile": {"step": f"s{name}"}, "length": high, **more},
    ]


def rod(name, x, y, radius, high, **more):
    return [
        sketch(f"s{name}", XY, circle(radius, x, y)),
        {"kind": "extrude", "id": name, "name": name, "profile": {"step": f"s{name}"}, "length": high, **more},
    ]


def document(*steps):
    return part({"format": "leadline-part", "version": 1, "name": "Together", "units": "mm", "steps": list(steps)})


RESULT = st.sampled_from(["add", "cut", "common"])
PLACE = st.tuples(st.floats(-5, 45), st.floats(-5, 25), st.floats(1.5, 9))


@settings(max_examples=15, deadline=None)
@given(PLACE, RESULT, PLACE, RESULT, st.booleans())
def test_what_is_shown_is_what_is_built(first, one, second, two, moving):
    """A block, a rod that changes it or not, and a second rod whose preview is asked for."""
    made = document(
        *block("b", 0, 0, 40, 20, 10), *rod("r", *first, 15, result=one), *rod("q", *second, 12, back=3, result=two)
    )
    result = build(made)
    shown = preview_step(made, "q", Memory(), moving=moving)
    states = {name: report.state for name, report in result.reports.items()}
    if (
        states["r"] != "fresh"
        or states["q"] != "fresh"
        or any(m.code in ("no-contact", "nothing-left") for m in result.reports["q"].messages)
    ):
        return
    assert "q" in shown.replaces
    touched = result.reports["q"].data["result"]["volume"]
    assert shown.mesh.volume() == pytest.approx(touched, rel=0.03, abs=0.5)


def test_bodies_that_are_not_met_stay_and_states_before_are_kept():
    steps = [*block("b", 0, 0, 40, 20, 10), *block("far", 100, 0, 10, 10, 10), *rod("q", 20, 10, 5, 30, result="cut")]
    memory = Memory()
    shown = preview_step(document(*steps), "q", memory)
    assert shown.replaces == ["b", "q"]
    assert shown.mesh.volume() == pytest.approx(8000 - 3.14159 * 25 * 10, rel=2e-3)
    known = len(memory.meshed.states)
    steps[-1]["length"] = 4
    assert preview_step(document(*steps), "q", memory).mesh.volume() == pytest.approx(8000 - 3.14159 * 25 * 4, rel=2e-3)
    assert len(memory.meshed.states) == known
    apart = preview_step(document(*steps[:-1], {**steps[-1], "result": "separate"}), "q", memory)
    assert apart.replaces == []


def test_where_a_body_is_known_by_its_solid_alone_the_tool_is_shown():
    move = {
        "kind": "arranged",
        "id": "m",
        "name": "Moved",
        "source": "b",
        "plane": XY,
        "how": {"by": "move", "x": 5, "y": 0, "out": 0, "turn": 0, "keep": False},
    }
    steps = [*block("b", 0, 0, 40, 20, 10), move, *rod("q", 20, 10, 5, 30, result="cut")]
    shown = preview_step(document(*steps), "q", Memory())
    assert shown.replaces == []
    assert shown.mesh.volume() == pytest.approx(3.14159 * 25 * 30, rel=5e-3)
