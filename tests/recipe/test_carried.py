"""Planes, paths and drawings carried along a path: where the frames of the path take them, by closed forms."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.kinds.sketch.editing import solve_step
from leadline.recipe.build import Memory, build
from tests.support.carried import START, R, bend
from tests.support.parts import XY, XZ, circle, part, polyline, sketch


def built(*steps):
    return build(
        part({"format": "leadline-part", "version": 1, "name": "Carried", "units": "mm", "steps": list(steps)})
    )


def along(at, **more):
    return {"by": "along", "along": {"step": "way"}, "at": at, **more}


@given(st.floats(0, math.pi * R), st.floats(-180, 180), st.booleans())
@settings(max_examples=15)
def test_a_plane_turns_with_the_path_or_is_held(at, turn, held):
    plane = {"kind": "step", "step": "start"}
    result = built(
        bend(),
        START,
        {"kind": "datum", "id": "there", "name": "There", "how": along(at, plane=plane, held=held, turn=turn)},
    )
    report = result.reports["there"]
    assert report.state == "fresh", report.messages
    shown = report.data["plane"]
    a = at / R
    assert shown["origin"] == pytest.approx([R * math.cos(a), R * math.sin(a), 0], abs=1e-5)
    tangent = np.array([-math.sin(a), math.cos(a), 0])
    outward = np.array([1.0, 0, 0]) if held else np.array([math.cos(a), math.sin(a), 0])
    t = math.radians(turn)  # about the tangent
    x = (
        outward * math.cos(t)
        + np.cross(tangent, outward) * math.sin(t)
        + tangent * float(tangent @ outward) * (1 - math.cos(t))
    )
    assert shown["x"] == pytest.approx(x, abs=1e-5)


@pytest.mark.parametrize("share", [25, 50, 80])
def test_a_path_is_carried_by_where_the_way_passes_it(share):
    """A stretch of 30 mm that stands out of the way at its start."""
    spoke = sketch("spoke", XY, polyline((R, 0), (R + 30, 0)))
    copy = {"kind": "derived", "id": "copy", "name": "Copy", "path": {"step": "spoke"}, "how": along(f"{share}%")}
    result = built(bend(), spoke, copy)
    assert result.reports["copy"].state == "fresh", result.reports["copy"].messages
    sweep = {
        "kind": "sweep",
        "id": "rod",
        "name": "Rod",
        "profile": {"quick": "round", "width": 4},
        "path": {"step": "copy"},
    }
    (rod,) = built(bend(), spoke, copy, sweep).bodies
    a = math.pi * share / 100
    assert rod.body.volume() == pytest.approx(math.pi * 4 * 30, rel=1e-9)
    assert rod.body.centre() == pytest.approx([(R + 15) * math.cos(a), (R + 15) * math.sin(a), 0], abs=1e-6)


def test_a_drawing_is_shown_on_a_plane_that_is_carried_and_follows_its_sketch():
    """Rings lofted from a drawing, at the start and carried to the end of the way: half of a torus, along the way as
    centreline.
    """
    ring = sketch("ring", {"kind": "step", "step": "start"}, circle(6))
    there = {
        "kind": "datum",
        "id": "there",
        "name": "There",
        "how": along("100%", plane={"kind": "step", "step": "start"}),
    }
    again = {
        "kind": "sketch",
        "id": "again",
        "name": "Again",
        "plane": {"kind": "step", "step": "there"},
        "same_as": "ring",
    }
    sections = [{"by": "drawn", "profile": {"step": s}} for s in ("ring", "again")]
    loft = {"kind": "loft", "id": "loft", "name": "Loft", "sections": sections, "centreline": {"step": "way"}}
    result = built(bend(), START, ring, there, again, loft)
    assert result.reports["loft"].state == "fresh", result.reports["loft"].messages
    assert result.bodies[0].body.volume() == pytest.approx(math.pi * 36 * math.pi * R, rel=1e-6)
    ring["sketch"]["entities"][0]["radius"] = 5
    assert built(bend(), START, ring, there, again, loft).bodies[0].body.volume() == pytest.approx(
        math.pi * 25 * math.pi * R, rel=1e-6
    )


def test_what_cannot_be_carried_is_said():
    there = {
        "kind": "datum",
        "id": "there",
        "name": "There",
        "how": along(200, plane={"kind": "step", "step": "start"}),
    }
    (message,) = built(bend(), START, there).reports["there"].messages
    assert (message.code, message.place["field"]) == ("off-path", "at")
    again = {"kind": "sketch", "id": "again", "name": "Again", "plane": XZ, "same_as": "start"}
    assert built(bend(), START, again).reports["again"].state == "failed"
    shown = part({"format": "leadline-part", "version": 1, "name": "P", "steps": [bend(), {**again, "same_as": "way"}]})
    with pytest.raises(Problem) as refused:
        solve_step(shown, "again", Memory())
    assert refused.value.message.code == "drawn-elsewhere"
