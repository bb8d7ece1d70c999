"""The loft as a step: from documents to bodies, as a surface for others, and what it refuses."""

import math

import numpy as np
import pytest

from leadline.recipe.build import build
from leadline.recipe.part_file import read_part
from tests.support.loft_steps import ABOVE, BESIDE, loft, quick
from tests.support.parts import DEMO, XY, XZ, circle, part, polyline, sketch


def built(*steps):
    return build(
        part({"format": "leadline-part", "version": 1, "name": "Loft", "units": "mm", "steps": [BESIDE, *steps]})
    )


def report_of(*steps):
    return built(*steps).reports["loft"]


def volume(report):
    assert report.state == "fresh", report.messages
    return report.data["checks"]["kernel_volume"]


def test_the_intake_shoe_reaches_its_rails():
    result = build(read_part((DEMO / "intake-shoe.json").read_bytes()))
    report = result.reports["shoe"]
    assert report.state == "fresh"
    lines = np.array(report.data["lines"])
    assert len(lines) == report.data["on_rails"] == 2
    for line, (a, b) in zip(lines, ((120, 99), (40, 61)), strict=True):
        assert np.abs(line[:, 1]).max() < 1e-6
        assert (line[:, 0] / a) ** 2 + (line[:, 2] / b) ** 2 == pytest.approx(np.ones(len(line)), abs=1e-6)
    assert report.data["numbers"]["ends"] == pytest.approx([56 * 24 + math.pi * 144, math.pi * 361], rel=1e-6)
    (body,) = result.bodies
    assert body.body.valid()
    assert report.data["checks"]["volume_error"] == pytest.approx(0, abs=1e-6)


def test_drawn_sections_faces_and_points():
    frustum = report_of(
        sketch("low", XY, circle(10)),
        loft({"by": "drawn", "profile": {"step": "low"}}, quick("round", 10, plane=ABOVE)),
    )
    assert volume(frustum) == pytest.approx(math.pi * 40 / 3 * (100 + 50 + 25), rel=1e-6)
    block = {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "low"}, "length": 15}
    tip = {"by": "point", "point": {"step": "top", "point": "O"}}
    spire = built(
        sketch("low", XY, circle(10)),
        block,
        sketch("top", ABOVE, circle(3)),
        loft({"by": "drawn", "profile": {"step": "block", "face": "block/cap/end"}}, tip, result="add"),
    )
    assert volume(spire.reports["loft"]) == pytest.approx(math.pi * 100 * 25 / 3, rel=1e-6)
    (body,) = spire.bodies
    assert body.body.volume() == pytest.approx(math.pi * 100 * (15 + 25 / 3), rel=1e-6)


def test_a_wall_and_a_surface():
    sections = (quick("round", 30), quick("round", 20, plane=ABOVE))
    frustum = lambda a, b: math.pi * 40 / 3 * (a * a + a * b + b * b)  # noqa: E731
    assert volume(report_of(loft(*sections, wall=2))) == pytest.approx(frustum(15, 10) - frustum(13, 8), rel=1e-6)
    surface = report_of(loft(*sections, surface=True))
    assert surface.state == "fresh"
    assert surface.data["numbers"]["area"] == pytest.approx(math.pi * 25 * math.hypot(40, 5), rel=1e-6)


@pytest.mark.parametrize("widths", [(20, 10, 30), (24, 30, 12), (10, 40, 20)])
def test_straight_between_sections_is_frustum_on_frustum(widths):
    middle = {"kind": "datum", "id": "middle", "name": "Middle", "how": {"by": "offset", "plane": XY, "distance": 15}}
    planes = (XY, {"kind": "step", "step": "middle"}, ABOVE)
    sections = [quick("round", w, plane=p) for w, p in zip(widths, planes, strict=True)]
    a, b, c = (w / 2 for w in widths)
    exact = math.pi / 3 * (15 * (a * a + a * b + b * b) + 25 * (b * b + b * c + c * c))
    assert volume(report_of(middle, loft(*sections, section_change="even"))) == pytest.approx(exact, rel=1e-6)
    level = report_of(middle, loft(*sections, section_change="even", start={"how": "square"}))
    # the first stretch leaves the first section square: its share of the second is (3 t² - t³) / 2, so that ∫ s = 3/8
    # and ∫ s² = 33/140
    first = math.pi * 15 * (a * a + 2 * a * (b - a) * 3 / 8 + (b - a) ** 2 * 33 / 140)
    assert volume(level) == pytest.approx(first + math.pi / 3 * 25 * (b * b + b * c + c * c), rel=1e-6)


def test_the_section_is_told_with_its_area_all_along():
    """Of a cone frustum from Ø30 to Ø20 over 40 mm, hollow by rings: a circle of 15 - s/8, less one of 12 - s/8."""
    rings = [
        {"by": "quick", "profile": {"quick": "ring", "width": w, "height": 0, "wall": 3}, "plane": p}
        for w, p in ((30, XY), (20, ABOVE))
    ]
    lanes = report_of(loft(*rings)).data["lanes"]
    outer = 15 - np.array(lanes["station"]) / 8
    assert lanes["area"] == pytest.approx(math.pi * (outer**2 - (outer - 3) ** 2), rel=1e-6)


def test_a_loft_is_a_surface_for_others():
    """A plane at half its height crosses a cone frustum in a circle of the mean radius."""
    cut = {
        "kind": "extrude",
        "id": "wall",
        "name": "Wall",
        "profile": {"step": "line"},
        "length": 30,
        "back": 30,
        "surface": True,
    }
    crossing = {
        "kind": "crossing",
        "id": "cross",
        "name": "Crossing",
        "first": {"step": "loft"},
        "second": {"step": "wall"},
    }
    result = built(
        loft(quick("round", 30), quick("round", 20, plane=ABOVE)),
        sketch("line", XZ, polyline((-40, 20), (40, 20))),
        cut,
        crossing,
    )
    assert result.reports["cross"].state == "fresh", result.reports["cross"].messages
    assert result.reports["cross"].data["path"]["length"] == pytest.approx(2 * math.pi * 12.5, rel=1e-7)


def test_its_faces_and_edges_are_taken_by_others():
    """A plane on its end, and a wire along an edge of a pyramid's side."""
    pyramid = loft(quick("rectangle", 30, 30), quick("rectangle", 10, 10, plane=ABOVE))
    sides = sorted(n for n in built(pyramid).bodies[0].body.face_names if "/side/" in n)
    assert len(sides) == 4
    top = {"kind": "datum", "id": "top", "name": "Top", "how": {"by": "face", "step": "loft", "face": "loft/cap/end"}}
    along = {
        "kind": "edges",
        "id": "along",
        "name": "Along",
        "tangent": False,
        "edges": [{"step": "loft", "edge": "&".join([sides[0], sides[2]])}],
    }
    more = built(pyramid, top, along)
    assert more.reports["top"].data["plane"]["origin"][2] == pytest.approx(40)
    assert more.reports["along"].state == "fresh", more.reports["along"].messages
    assert more.reports["along"].data["path"]["length"] == pytest.approx(math.sqrt(40**2 + 10**2 + 10**2), rel=1e-9)


@pytest.mark.parametrize(
    ("step", "code", "field"),
    [
        (loft(quick("round", 30)), "few-sections", "sections"),
        (loft(quick("round", 30), quick("round", 20)), "same-place", "sections"),
        (
            loft(quick("round", 30), quick("round", 20, plane=ABOVE), start={"how": "square", "strength": 9}),
            "bad-size",
            "start",
        ),
        (
            loft(quick("round", 30), quick("round", 20, plane=ABOVE), threads=[{"shares": [0]}]),
            "thread-short",
            "threads",
        ),
        (loft(quick("round", 30), quick("round", 20, plane=ABOVE), closed=True), "few-sections", "sections"),
        (
            loft(
                quick("ring", 30) | {"profile": {"quick": "ring", "width": 30, "wall": 2}},
                quick("round", 20, plane=ABOVE),
            ),
            "holes-differ",
            "sections",
        ),
        (loft({"by": "drawn", "profile": {"step": "two"}}, quick("round", 20, plane=ABOVE)), "one-region", "sections"),
    ],
)
def test_what_cannot_be_built_is_said_with_its_field(step, code, field):
    rings = circle(4)
    rings.point("d", 20, 0)
    rings.circle("other", "d", 4)
    report = report_of(sketch("two", XY, rings), step)
    (message,) = report.messages
    assert (report.state, message.code, message.place["field"]) == ("failed", code, field)
    assert message.way_out
