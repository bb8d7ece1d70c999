"""Lofts and sweeps that end in a point, or go from one point to another: volumes by Cavalieri, whatever the outline and
wherever the point.
"""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.exports.formats import Look, export, formats
from leadline.recipe.build import build
from tests.support.parts import XY, XZ, part, polyline, sketch
from tests.support.shapes import Draw

FEW = settings(max_examples=25, deadline=None)
AREAS = {
    "round": lambda w, h: math.pi / 4 * w * w,  # noqa: ARG005
    "rectangle": lambda w, h: w * h,
    "ellipse": lambda w, h: math.pi / 4 * w * h,
    "hexagon": lambda w, h: math.sqrt(3) / 2 * w * w,  # noqa: ARG005
    "slot": lambda w, h: (w - h) * h + math.pi / 4 * h * h,
}


def plane(name, height):
    return {"kind": "datum", "id": name, "name": name, "how": {"by": "offset", "plane": XY, "distance": height}}


def on(name):
    return {"kind": "step", "step": name}


def point(name, x, y, place):
    d = Draw()
    d.point("p", x, y)
    return sketch(name, place, d)


def quick(kind, width, height, place=XY):
    return {"by": "quick", "profile": {"quick": kind, "width": width, "height": height}, "plane": place}


def tip(name):
    return {"by": "point", "point": {"step": name, "point": "p"}}


def loft(sections, change="ruled", **more):
    return {"kind": "loft", "id": "l", "name": "L", "sections": sections, "section_change": change, **more}


def built(*steps):
    return build(part({"format": "leadline-part", "version": 1, "name": "Tip", "units": "mm", "steps": list(steps)}))


def solid(result, step="l"):
    assert result.reports[step].state == "fresh", result.reports[step].messages
    (kept,) = result.bodies
    assert kept.body.valid()
    return kept


KINDS, CHANGES = st.sampled_from(sorted(AREAS)), st.sampled_from(["ruled", "even", "smooth"])


@FEW
@given(
    kind=KINDS,
    change=CHANGES,
    width=st.floats(3, 40),
    share=st.floats(0.2, 0.9),
    high=st.floats(2, 120),
    x=st.floats(-60, 60),
    y=st.floats(-60, 60),
    first=st.booleans(),
)
def test_a_cone_on_any_outline_has_a_third_of_its_prism_wherever_its_tip_is(
    kind, change, width, share, high, x, y, first
):
    height = share * width
    sections = [quick(kind, width, height), tip("t")]
    result = built(
        plane("high", high), point("t", x, y, on("high")), loft(sections[::-1] if first else sections, change)
    )
    kept = solid(result)
    assert kept.body.volume() == pytest.approx(AREAS[kind](width, height) * high / 3, rel=1e-6)
    mesh = kept.shown()
    assert mesh.volume() == pytest.approx(kept.body.volume(), rel=0.02)
    lengths = (mesh.normals**2).sum(axis=1)
    assert lengths == pytest.approx(1.0)


@FEW
@given(
    kind=KINDS,
    change=st.sampled_from(["ruled", "even", "smooth"]),
    width=st.floats(3, 30),
    low=st.floats(5, 60),
    high=st.floats(5, 60),
)
def test_from_a_point_to_a_point(kind, change, width, low, high):
    height = 0.6 * width
    steps = [plane("m", low), plane("top", low + high), point("a", 0, 0, XY), point("b", 0, 0, on("top"))]
    kept = solid(built(*steps, loft([tip("a"), quick(kind, width, height, on("m")), tip("b")], change)))
    both = AREAS[kind](width, height) * (low + high)
    if change == "smooth":
        assert (
            both / 3 < kept.body.volume() < 2 * both
        )  # a natural spline goes beyond the widest section where that stands near an end
    else:
        assert kept.body.volume() == pytest.approx(both / 3, rel=1e-6)
    assert len(kept.shown().triangles) < 60_000


@pytest.mark.parametrize("kind", ["round", "rectangle"])
@pytest.mark.parametrize("change", ["ruled", "even", "smooth"])
def test_what_goes_from_a_point_to_a_point_is_saved_in_every_format(kind, change):
    steps = [
        plane("m", 25),
        plane("top", 50),
        point("a", 0, 0, XY),
        point("b", 0, 0, on("top")),
        loft([tip("a"), quick(kind, 20, 14, on("m")), tip("b")], change),
    ]
    result = built(*steps)
    for name in formats():
        assert 100 < len(export(result, name, Look())) < 1_000_000


LINE = sketch("path", XZ, polyline((0, 0), (0, 50)))


def swept(sections, change="even", **more):
    profile = {"quick": "rectangle", "width": 20, "height": 14.7}
    return {
        "kind": "sweep",
        "id": "l",
        "name": "L",
        "path": {"step": "path"},
        "profile": profile,
        "sections": sections,
        "section_change": change,
        **more,
    }


def test_a_sweep_s_sections_go_to_a_point_and_from_one_to_another():
    assert solid(built(LINE, swept([{"profile": None, "at": 50}]))).body.volume() == pytest.approx(4900)
    both = solid(built(LINE, swept([{"profile": None, "at": 0}, {"profile": None, "at": 50}], bring={"at": 20})))
    assert both.body.volume() == pytest.approx(4900)


def test_a_sweep_that_goes_on_after_its_point_is_refused_with_the_way_out():
    step = swept([{"profile": None, "at": 30}])
    (message,) = built(LINE, step).reports["l"].messages
    assert message.code == "point-inside"
    mended = built(LINE, {**step, **message.remedies[0].change})
    assert solid(mended).body.volume() == pytest.approx(20 * 14.7 * 30 / 3)


def test_even_sections_of_a_sweep_never_overshoot():
    rounds = [{"quick": "round", "width": w} for w in (10, 15.42, 12)]
    line = sketch("path", XZ, polyline((0, 0), (0, 60)))
    step = {
        "kind": "sweep",
        "id": "l",
        "name": "L",
        "path": {"step": "path"},
        "profile": rounds[0],
        "section_change": "even",
        "sections": [{"profile": rounds[1], "at": 20}, {"profile": rounds[2], "at": 60}],
    }
    frusta = sum(math.pi * h / 12 * (a * a + a * b + b * b) for a, b, h in ((10, 15.42, 20), (15.42, 12, 40)))
    assert solid(built(line, step)).body.volume() == pytest.approx(frusta, rel=1e-6)


@pytest.mark.parametrize("change", ["ruled", "even", "smooth"])
@pytest.mark.parametrize("aside", [(0, 0, 0), (0, 3, 1), (0, 30, 10)])
@pytest.mark.parametrize("heights", [(0, 40, 20), (0, 40, 40), (0, 40, 0), (20, 0, 40)])
def test_sections_that_are_not_in_their_order_are_refused(change, aside, heights):
    planes = [plane(f"p{i}", h) for i, h in enumerate(heights)]
    sections = [{**quick("round", 10, 0, on(f"p{i}")), "x": x} for i, x in enumerate(aside)]
    (message,) = built(*planes, loft(sections, change)).reports["l"].messages
    assert message.code in {"out-of-order", "same-place"}
    assert message.place["field"] == "sections"


@FEW
@given(
    corners=st.integers(3, 8),
    shares=st.lists(st.floats(0.55, 1), min_size=8, max_size=8),
    scale=st.floats(0.2, 0.95),
    low=st.floats(3, 60),
    high=st.floats(3, 60),
    x=st.floats(-200, 200),
    y=st.floats(-200, 200),
    first=st.booleans(),
)
def test_a_ruled_frustum_with_a_slanting_tip_is_straight_whichever_way_its_middles_go(
    corners, shares, scale, low, high, x, y, first
):
    """The line through the middles of the sections bends sharply, and may come to the tip almost along the sections."""
    turns = [2 * math.pi * k / corners for k in range(corners)]
    outline = [(40 * s * math.cos(t), 40 * s * math.sin(t)) for s, t in zip(shares, turns, strict=False)]
    area = sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(outline, [*outline[1:], outline[0]], strict=True)) / 2
    steps = [
        sketch("o", XY, polyline(*outline, closed=True)),
        plane("m", low),
        sketch("q", on("m"), polyline(*[(scale * a, scale * b) for a, b in outline], closed=True)),
        plane("top", low + high),
        point("t", x, y, on("top")),
    ]
    sections = [{"by": "drawn", "profile": {"step": "o"}}, {"by": "drawn", "profile": {"step": "q"}}, tip("t")]
    kept = solid(built(*steps, loft(sections[::-1] if first else sections)))
    assert kept.body.volume() == pytest.approx(area * (low * (1 + scale + scale**2) + high * scale**2) / 3, rel=1e-6)
