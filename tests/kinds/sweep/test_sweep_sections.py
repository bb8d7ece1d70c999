"""A sweep that goes over from its profile into further sections."""

import math

import numpy as np
import pytest
from scipy.integrate import quad

from leadline.recipe.build import build
from tests.support.parts import XY, circle, part, polyline, sketch


def quick(kind, width, height=0.0):
    return {"quick": kind, "width": width, "height": height}


def swept(path, *steps, **more):
    base = {"kind": "sweep", "id": "sweep", "name": "Sweep", "path": {"step": "path"}, "profile": quick("round", 20)}
    steps = [path, *steps, {**base, **more}]
    return build(part({"format": "leadline-part", "version": 1, "name": "Sections", "units": "mm", "steps": steps}))


STRAIGHT = sketch("path", XY, polyline((0, 0), (60, 0)))


def bend(angle=90.0):
    shape = {"by": "round", "plane": XY, "radius": 80, "start_angle": 180, "sweep": f"{-angle} deg"}
    return {"kind": "curve", "id": "path", "name": "Path", "shape": shape}


def report_of(result):
    report = result.reports["sweep"]
    assert report.state == "fresh", report.messages
    assert report.data["checks"]["volume_error"] == pytest.approx(0, abs=1e-6)
    return report


def test_evenly_to_a_smaller_circle_is_a_frustum_and_to_a_point_a_cone():
    frustum = report_of(swept(STRAIGHT, sections=[{"profile": quick("round", 10), "at": 60}], section_change="even"))
    assert frustum.data["numbers"]["volume"] == pytest.approx(math.pi * 20 * (100 + 50 + 25), rel=1e-9)
    cone = report_of(swept(STRAIGHT, sections=[{"profile": None, "at": "100%"}], section_change="even"))
    assert cone.data["numbers"]["volume"] == pytest.approx(math.pi * 100 * 20, rel=1e-9)


def test_smoothly_it_is_level_where_sections_stand_and_stays_beyond_them():
    """From Ø20 at 0 to Ø10 at 40 of 60 mm: the radius is 10 - 5 (3 t² - 2 t³)."""
    report = report_of(swept(STRAIGHT, sections=[{"profile": quick("round", 10), "at": 40}]))
    changing, _ = quad(lambda t: math.pi * 40 * (10 - 5 * (3 * t**2 - 2 * t**3)) ** 2, 0, 1)
    assert report.data["numbers"]["volume"] == pytest.approx(changing + 20 * math.pi * 25, rel=1e-9)


@pytest.mark.parametrize("twist", [0.0, 0.5])
def test_a_slot_becomes_a_circle_on_a_bent_path(twist):
    sections = [{"profile": quick("round", 24), "at": "100%"}]
    result = swept(bend(), profile=quick("slot", 40, 16), sections=sections, twist=twist)
    report = report_of(result)
    assert report.data["numbers"]["ends"] == pytest.approx([24 * 16 + math.pi * 64, math.pi * 144], rel=1e-9)
    (body,) = result.bodies
    assert body.body.valid()


def test_a_section_stands_where_it_is_drawn():
    """Ø10 drawn 5 mm aside on a plane square to the path's end: the shape leans there, its volume is that of the
    frustum.
    """
    end = {"kind": "plane", "id": "end", "name": "End", "path": {"step": "path"}, "place": "end"}
    drawn = sketch("small", {"kind": "step", "step": "end"}, circle(5, 0, 5))
    result = swept(STRAIGHT, end, drawn, sections=[{"profile": {"step": "small"}}], section_change="even")
    report = report_of(result)
    assert report.data["numbers"]["volume"] == pytest.approx(math.pi * 20 * (100 + 50 + 25), rel=1e-9)
    mesh = result.bodies[0].shown().points
    tip = mesh[np.abs(mesh[:, 0] - 60) < 1e-6]
    plane = result.reports["end"].data["plane"]
    aside = (tip - plane["origin"]) @ np.array(plane["y"])
    assert (aside.min(), aside.max()) == pytest.approx((0, 10), abs=0.05)


def test_a_wall_goes_along():
    report = report_of(
        swept(STRAIGHT, sections=[{"profile": quick("round", 10), "at": 60}], section_change="even", wall=1)
    )
    inner = math.pi * 20 * (81 + 36 + 16)
    assert report.data["numbers"]["volume"] == pytest.approx(math.pi * 20 * 175 - inner, rel=1e-9)


@pytest.mark.parametrize(
    ("more", "code"),
    [
        ({"sections": [{"profile": quick("round", 10), "at": 90}]}, "off-path"),
        ({"sections": [{"profile": quick("round", 10), "at": 0}]}, "same-place"),
        ({"sections": [{"profile": quick("round", 10)}]}, "no-station"),
        ({"sections": [{"profile": None}]}, "no-station"),
        ({"sections": [{"profile": {"quick": "ring", "width": 10, "wall": 2}, "at": 60}]}, "holes-differ"),
    ],
)
def test_what_cannot_be_is_said(more, code):
    report = swept(STRAIGHT, **more).reports["sweep"]
    (message,) = report.messages
    assert (message.code, message.place["field"]) == (code, "sections")
    assert message.way_out
