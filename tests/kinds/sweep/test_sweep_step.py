"""The sweep step in a part: what it takes in, what it gives back, and every refusal."""

from __future__ import annotations

import math

import numpy as np
import pytest

from leadline.core.solids.body import Body
from leadline.recipe.build import Memory, build
from tests.support.parts import XY, XZ, YZ, circle, curve, part, polyline, sketch
from tests.support.shapes import Draw, rectangle
from tests.support.sweep_steps import document, refused, swept

STRAIGHT = sketch("path", XY, polyline((0, 0), (90, 0)))
KINKED = sketch("path", XY, polyline((0, 0), (80, 0), (80, 50)))
WAVE = sketch("path", XZ, curve((0, 0), (40, 15), (80, -5), (120, 5)))
ROUND = {"quick": "round", "width": 10}


def test_quick_sections_need_no_sketch():
    for profile, area in (
        ({"quick": "round", "width": 10}, 25 * math.pi),
        ({"quick": "rectangle", "width": 12, "height": "5 mm"}, 60),
        ({"quick": "slot", "width": 20, "height": 8}, 12 * 8 + 16 * math.pi),
    ):
        report, (body,) = swept(STRAIGHT, profile=profile)
        assert body.body.volume() == pytest.approx(area * 90, rel=1e-7)
        assert report.data["numbers"]["volume"] == pytest.approx(area * 90)


def test_a_part_of_a_material_tells_its_density():
    steel = document(STRAIGHT, profile=ROUND).model_copy(update={"material": "steel"})
    assert build(steel).as_dict()["density"] == 7850
    assert build(document(STRAIGHT, profile=ROUND)).density is None


def test_a_profile_in_the_paths_own_plane_is_stood_up_square_to_it():
    """Drawn beside the path, its middle comes to the path and its y to the normal of the path's plane."""
    flat = sketch("profile", XY, polyline((10, 40), (16, 40), (16, 50), (10, 50), closed=True))
    report, (kept,) = swept(STRAIGHT, flat, bring={})
    assert kept.body.volume() == pytest.approx(60 * 90)
    assert kept.body.centre() == pytest.approx((45, 0, 0), abs=1e-9)
    assert report.data["lanes"]["y"][0] == pytest.approx([0, 0, 1])
    on_corner, _ = swept(STRAIGHT, flat, bring={"anchor": "p0", "turn": 90})
    assert on_corner.data["numbers"]["centre"] != report.data["numbers"]["centre"]
    assert refused(STRAIGHT, flat).code in {"edge-on", "misses-path"}


def test_corners_mitred_rounded_and_refused():
    message = refused(KINKED, profile=ROUND)
    assert (message.code, message.place["station"]) == ("corner", 80)
    _, (mitred,) = swept(KINKED, profile={"quick": "rectangle", "width": 8, "height": 6}, corners="mitre")
    assert mitred.body.volume() == pytest.approx(48 * 130)
    report, (tube,) = swept(KINKED, profile=ROUND, corners="round", corner_radius=20, wall=1)
    length = 130 - 40 + 10 * math.pi
    assert report.data["length"] == pytest.approx(length)
    assert tube.body.volume() == pytest.approx(math.pi * 9 * length, rel=1e-7)
    assert refused(KINKED, profile=ROUND, corners="round", corner_radius=60).code == "bends-overlap"


@pytest.mark.parametrize(("side", "area"), [("inward", 9), ("outward", 11), ("both", 10)])
def test_walls_in_out_and_on_both_sides(side, area):
    _, (body,) = swept(STRAIGHT, profile=ROUND, wall=1, wall_side=side)
    assert body.body.volume() == pytest.approx(math.pi * area * 90, rel=1e-7)
    _, (box,) = swept(STRAIGHT, profile={"quick": "rectangle", "width": 20, "height": 10}, wall=1, wall_side=side)
    sizes = {"inward": (20, 10, 18, 8), "outward": (22, 12, 20, 10), "both": (21, 11, 19, 9)}[side]
    assert box.body.volume() == pytest.approx((sizes[0] * sizes[1] - sizes[2] * sizes[3]) * 90)


def test_a_stretch_and_one_way_from_the_profile():
    plane = {"kind": "plane", "id": "plane", "name": "Plane", "path": {"step": "path"}, "place": "length", "value": 30}
    own = sketch("profile", {"kind": "step", "step": "plane"}, circle(4))
    area = 16 * math.pi
    for more, length in (
        ({}, 90),
        ({"way": "forward"}, 60),
        ({"way": "back"}, 30),
        ({"start": 10, "end": 50}, 40),
        ({"start": 10, "way": "back"}, 20),
    ):
        _, (body,) = swept(STRAIGHT, plane, own, **more)
        assert body.body.volume() == pytest.approx(area * length, rel=1e-7), more
    assert refused(STRAIGHT, plane, own, start=40).code == "outside-stretch"
    assert refused(STRAIGHT, plane, own, start=80, end=20).code == "off-path"


def test_orientations_of_one_section_on_a_wave():
    """Held parallel loses by the slope what turning keeps; both have their closed form."""
    own = sketch("profile", YZ, circle(3))
    turning, _ = swept(WAVE, own)
    held, _ = swept(WAVE, own, orientation="held")
    area = 9 * math.pi
    # the profile's plane x = 0 is not quite square to the wave's start, and keeps that lean as it turns along
    lean = math.sin(math.radians(turning.data["lanes"]["tilt"][0]))
    assert turning.data["numbers"]["volume"] == pytest.approx(area * lean * turning.data["length"], rel=1e-6)
    assert held.data["numbers"]["volume"] == pytest.approx(area * 120, rel=1e-7)
    upright, _ = swept(WAVE, profile=ROUND, orientation="upright", up={"by": "axis", "axis": "Z"})
    assert [abs(v) for v in upright.data["lanes"]["x"][100]] == pytest.approx([0, 1, 0], abs=1e-6)
    assert upright.data["lanes"]["y"][100][2] > 0.9
    assert refused(STRAIGHT, profile=ROUND, orientation="upright", up={"by": "axis", "axis": "X"}).code == "along-up"
    up = sketch("path", XZ, polyline((0, 0), (20, 0), (20, 30)))
    assert refused(up, own, orientation="held", corners="round", corner_radius=8).code == "edge-on"


def test_a_section_faces_a_rail_without_stretch():
    rail = sketch("rail", XY, polyline((-5, 20), (200, 20)))
    report, _ = swept(
        STRAIGHT,
        rail,
        profile={"quick": "rectangle", "width": 6, "height": 2},
        orientation="facing",
        facing={"step": "rail"},
    )
    assert report.data["numbers"]["volume"] == pytest.approx(12 * 90)
    assert report.uses == ["path", "rail"]
    assert report.data["lanes"]["y"][0] == pytest.approx([0, 1, 0])
    assert refused(STRAIGHT, profile=ROUND, orientation="facing").code == "no-rail"


def test_twist_laws_agree_where_they_say_the_same():
    box = {"quick": "rectangle", "width": 12, "height": 5}
    laws = [
        1.5,
        {"by": "pitch", "pitch": 60},
        {"by": "table", "points": [{"at": 0, "value": 0}, {"at": "90 mm", "value": "540 deg"}], "smooth": False},
    ]
    reports = [swept(STRAIGHT, profile=box, twist=law)[0] for law in laws]
    for report in reports:
        assert report.data["lanes"]["twist"][-1] == pytest.approx(540)
        assert report.data["numbers"]["area"] == pytest.approx(reports[0].data["numbers"]["area"])
        assert "1.5 turns" in report.figure
    assert refused(STRAIGHT, profile=box, twist={"by": "pitch", "pitch": 0}).code == "bad-size"
    again = [{"at": 5, "value": 0}, {"at": 5, "value": 9}]
    assert refused(STRAIGHT, profile=box, twist={"by": "table", "points": again}).code == "two-values"


def test_size_laws_cone_taper_and_one_way():
    cone = math.pi * 25 * 90 / 3
    report, _ = swept(STRAIGHT, profile=ROUND, size={"by": "ratio", "end": 0.5})
    assert report.data["numbers"]["volume"] == pytest.approx(cone * (1 + 0.5 + 0.25))
    angle = math.atan(2.5 / 90)
    report, _ = swept(STRAIGHT, profile=ROUND, size={"by": "taper", "angle": f"{-math.degrees(angle)!r} deg"})
    assert report.data["numbers"]["volume"] == pytest.approx(cone * 1.75, rel=1e-6)
    wedge = {"by": "table", "points": [{"at": 0, "value": 1}, {"at": 90, "value": 0.5}], "smooth": False}
    report, _ = swept(
        STRAIGHT, profile={"quick": "rectangle", "width": 10, "height": 4}, size={"by": "ratio", "end": 1}, size_y=wedge
    )
    assert report.data["numbers"]["volume"] == pytest.approx(40 * 90 * 0.75)
    message = refused(STRAIGHT, profile=ROUND, size={"by": "taper", "angle": -20})
    assert (message.code, message.place["field"]) == ("vanishes", "size")


def test_rails_stretch_the_section_by_tie_or_nearest_point():
    rail = sketch("rail", XY, polyline((-5, 5), (100, 26)))  # 6 at the start, 24 at the end
    radius = [6, 24]
    expected = math.pi * 90 / 3 * (36 + 6 * 24 + 24**2)
    tied = circle(6)
    tied.point("top", 6, 0)
    tied.hold("on_path", "top", path="rail")
    own = sketch("profile", YZ, tied)
    for profile, more in (
        (own, {}),
        (sketch("profile", YZ, circle(6)), {}),
        (own, {"rails": [{"path": {"step": "rail"}, "anchor": "top"}]}),
    ):
        report, (body,) = swept(STRAIGHT, rail, profile, **{"rails": [{"path": {"step": "rail"}}], **more})
        assert report.data["numbers"]["volume"] == pytest.approx(expected, rel=1e-6), radius
        assert body.body.valid()
    across, _ = swept(STRAIGHT, rail, own, rails=[{"path": {"step": "rail"}}], rail_use="across")
    assert across.data["numbers"]["volume"] == pytest.approx(math.pi * 6 * 90 * 15, rel=1e-6)
    conflict = refused(STRAIGHT, rail, own, rails=[{"path": {"step": "rail"}}], size={"by": "ratio", "end": 2})
    assert conflict.code == "rails-and-size"


def test_four_rails_bend_the_section_so_that_it_reaches_them_all():
    rails = [
        sketch(f"r{i}", plane, polyline((-5, y), (100, end)))
        for i, (plane, y, end) in enumerate([(XY, 5, 15.5), (XZ, 5, 5), (XY, -5, -5), (XZ, -5, -15.5)])
    ]
    report, (body,) = swept(STRAIGHT, *rails, profile=ROUND, rails=[{"path": {"step": r["id"]}} for r in rails])
    assert body.body.valid()
    lanes, section = report.data["lanes"], report.data["section"]
    (outline,), (lift,) = (np.array(section[k]) for k in ("loops", "lift"))
    at_end = outline + lift @ np.array(lanes["bending"][-1])
    placed = np.array(lanes["point"][-1]) + at_end @ np.array([lanes["x"][-1], lanes["y"][-1]])
    for y, z in ((14.5, 0), (0, 5), (-5, 0), (0, -14.5)):
        assert np.linalg.norm(placed - [90, y, z], axis=1).min() < 0.1
    assert placed[:, 1].max() == pytest.approx(14.5, abs=0.5)  # no bulge beyond what the rails ask for
    crossed = refused(
        STRAIGHT,
        *rails[:3],
        sketch("r3", XZ, polyline((-5, -5), (100, 40))),
        profile=ROUND,
        rails=[{"path": {"step": r["id"]}} for r in rails],
    )
    assert crossed.code == "outline-crosses"


def test_a_short_rail_ends_the_sweep_and_says_so():
    rail = sketch("rail", XY, polyline((-5, 5), (45, 5)))
    report, (body,) = swept(STRAIGHT, rail, profile=ROUND, rails=[{"path": {"step": "rail"}}])
    assert body.body.volume() == pytest.approx(math.pi * 25 * 45, rel=1e-6)
    (note,) = [m for m in report.messages if m.code == "rail-ends"]
    assert "“Rail”" in note.text
    assert "45 mm" in note.text
    missing = refused(
        STRAIGHT, sketch("rail", XY, polyline((20, 5), (45, 5))), profile=ROUND, rails=[{"path": {"step": "rail"}}]
    )
    assert missing.code == "rail-missed"


def test_a_face_of_a_body_and_profiles_of_several_sketches():
    block = {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "base"}, "length": 10}
    base = sketch("base", YZ, rectangle(8, 6))
    report, bodies = swept(
        STRAIGHT, base, block, profile={"step": "block", "face": "block/cap/end"}, bring={}, result="separate"
    )
    assert report.data["numbers"]["volume"] == pytest.approx(48 * 90)
    assert len(bodies) == 2
    left, right = sketch("left", YZ, circle(2, -6)), sketch("right", YZ, circle(3, 6))
    both, bodies = swept(STRAIGHT, left, right, profile={"step": "left"}, more_profiles=[{"step": "right"}])
    assert both.data["numbers"]["volume"] == pytest.approx(math.pi * 13 * 90)
    assert len(bodies) == 2
    assert (
        refused(
            STRAIGHT, left, sketch("right", XZ, circle(3)), profile={"step": "left"}, more_profiles=[{"step": "right"}]
        ).code
        == "other-plane"
    )


@pytest.mark.parametrize(
    ("mode", "volume"), [("cut", 64000 - 400 * math.pi), ("common", 400 * math.pi), ("add", 64000 + 500 * math.pi)]
)
def test_cut_common_and_add(mode, volume):
    base = sketch("base", XY, polyline((20, -20), (60, -20), (60, 20), (20, 20), closed=True))
    block = {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "base"}, "length": 20, "back": 20}
    _, (body,) = swept(STRAIGHT, base, block, profile={"quick": "round", "width": 2 * math.sqrt(10)}, result=mode)
    assert body.body.volume() == pytest.approx(volume, rel=1e-6)
    assert body.step == "block"
    nothing = refused(STRAIGHT, profile=ROUND, result="common")
    assert nothing.code == "nothing-to-common"


def test_a_body_that_bridges_two_makes_them_one():
    a = sketch("a", XY, polyline((0, -5), (10, -5), (10, 5), (0, 5), closed=True))
    b = sketch("b", XY, polyline((80, -5), (90, -5), (90, 5), (80, 5), closed=True))
    blocks = [
        {"kind": "extrude", "id": f"{n}x", "name": n, "profile": {"step": n}, "length": 5, "back": 5} for n in "ab"
    ]
    _, (body,) = swept(STRAIGHT, a, b, *blocks, profile={"quick": "rectangle", "width": 4, "height": 4}, result="add")
    assert body.body.volume() == pytest.approx(2000 + 16 * 70)


def test_a_helix_from_two_of_three_and_a_blade_upright_along_it():
    coil = {"kind": "helix", "id": "path", "name": "Coil", "plane": XY, "radius": 20, "pitch": 15, "turns": 3}
    blade = sketch("profile", XZ, polyline((20, -1), (32, -1), (32, 1), (20, 1), closed=True))
    report, (body,) = swept(coil, blade, orientation="upright", up={"by": "plane", "plane": XY})
    assert report.data["numbers"]["volume"] == pytest.approx(24 * 2 * math.pi * 26 * 3, rel=1e-9)
    assert body.body.valid()
    by_height = {**coil, "pitch": None, "height": 45}
    assert swept(by_height, profile=ROUND)[0].data["length"] == pytest.approx(report.data["length"])
    result = build(document({**coil, "height": 45}, profile=ROUND))
    assert result.reports["path"].messages[0].code == "two-of-three"


def quarter(radius: float = 30) -> Draw:
    """A quarter arc in XZ that rises outward from (40, 0) to (70, 30)."""
    d = Draw()
    for name, x, y in (("c", 40, radius), ("a", 40, 0), ("b", 40 + radius, radius)):
        d.point(name, x, y)
    d.arc("bowl", "c", "a", "b")
    return d


def test_a_bowl_as_a_surface_and_with_a_wall():
    """Areas and volumes of revolution by Pappus: length and area of the outline times the way of its centroid."""
    loop = sketch("path", XY, circle(40))
    own = sketch("profile", XZ, quarter())
    report, (kept,) = swept(loop, own, surface=True)
    way = 40 + 30 * 2 / math.pi  # centroid of the arc from its centre: 2r/pi
    area = 30 * math.pi / 2 * 2 * math.pi * way
    assert kept.body.sheet
    assert kept.body.area() == pytest.approx(area, rel=1e-7)
    assert report.data["numbers"]["area"] == pytest.approx(area, rel=1e-9)
    assert report.data["numbers"]["volume"] == 0
    for side, (r1, r2) in {"inward": (28, 30), "outward": (30, 32), "both": (29, 31)}.items():
        _, (solid,) = swept(loop, own, surface=True, wall=2, wall_side=side)
        ring = math.pi / 4 * (r2**2 - r1**2)
        reach = 40 + 4 * (r2**3 - r1**3) / (3 * math.pi * (r2**2 - r1**2))
        assert not solid.body.sheet
        assert solid.body.volume() == pytest.approx(ring * 2 * math.pi * reach, rel=1e-6), side
    assert refused(loop, own, surface=True, result="cut").code in {"surface-alone", "nothing-to-cut"}
    assert refused(loop, own, surface=True, wall=31).code == "wall-swallows-edges"


def test_a_hood_starts_round_and_ends_on_a_hexagon():
    loop = sketch("path", XY, circle(40))
    own = sketch("profile", XZ, quarter())
    corners = [(84 * math.cos(math.radians(60 * i + 30)), 84 * math.sin(math.radians(60 * i + 30))) for i in range(6)]
    level = {"kind": "datum", "id": "level", "name": "Level", "how": {"by": "offset", "plane": XY, "distance": 30}}
    rim = sketch("rim", {"kind": "step", "step": "level"}, polyline(*corners, closed=True))
    report, (kept,) = swept(
        loop, own, level, rim, surface=True, rails=[{"path": {"step": "rim"}, "anchor": "b"}], rail_use="across"
    )
    assert kept.body.valid()
    assert {"sweep/side/bowl/ring"} == set(kept.body.face_names)
    edges = report.data["lanes"]
    for p, x, y in zip(edges["point"], edges["x"], edges["y"], strict=True):
        bx, by = report.data["section"]["loops"][0][
            0
        ]  # the path runs against the normal of the drawing, so that the outline is passed the other way
        end = [p[k] + bx * x[k] + by * y[k] for k in range(3)]
        angle = math.atan2(end[1], end[0]) % (math.pi / 3) - math.pi / 6
        on_rim = 84 * math.cos(math.pi / 6) / math.cos(abs(abs(angle) - math.pi / 6))
        assert end[2] == pytest.approx(30, abs=1e-4)
        assert math.hypot(end[0], end[1]) == pytest.approx(on_rim, rel=1e-4)
    _, (solid,) = swept(
        loop,
        own,
        level,
        rim,
        surface=True,
        wall=2,
        wall_side="outward",
        rails=[{"path": {"step": "rim"}, "anchor": "b"}],
        rail_use="across",
    )
    assert solid.body.valid()
    assert solid.body.volume() == pytest.approx(2 * kept.body.area(), rel=0.1)


def test_a_section_lies_on_the_surface_that_its_path_runs_along():
    """On a cylinder its y stays radial; along a helix that is a screw, whose volume has a closed form."""
    shaft = {"kind": "extrude", "id": "shaft", "name": "Shaft", "profile": {"step": "base"}, "length": 60}
    coil = {"kind": "helix", "id": "path", "name": "Coil", "plane": XY, "radius": 20, "pitch": 15, "turns": 3}
    report, bodies = swept(
        sketch("base", XY, circle(20)),
        shaft,
        coil,
        profile={"quick": "rectangle", "width": 6, "height": 2},
        orientation="lying",
        lying={"step": "shaft", "face": "shaft/side/ring/0"},
    )
    for point, y in list(zip(report.data["lanes"]["point"], report.data["lanes"]["y"], strict=True))[::37]:
        assert y == pytest.approx([point[0] / 20, point[1] / 20, 0], abs=1e-6)
    assert report.data["numbers"]["volume"] == pytest.approx(12 * report.data["length"], rel=1e-6)
    assert bodies[-1].body.valid()
    assert refused(coil, profile=ROUND, orientation="lying").code == "no-surface"


def test_extended_ends_go_on_straight():
    report, (body,) = swept(KINKED, profile=ROUND, corners="round", corner_radius=20, extend_start=15, extend_end=5)
    assert body.body.volume() == pytest.approx(25 * math.pi * (130 - 40 + 10 * math.pi + 20), rel=1e-7)
    assert report.data["lanes"]["point"][0] == pytest.approx([-15, 0, 0])
    assert refused(STRAIGHT, profile=ROUND, extend_end=-1).code == "bad-extension"


def test_ends_are_cut_by_planes_and_keep_their_names():
    """A cylinder cut by a plane at 45° through (60, 0): its volume is that up to where the plane meets the axis."""
    guide = sketch("guide", XY, polyline((60, -30), (60, 30)))
    plane = {
        "kind": "datum",
        "id": "tilt",
        "name": "Tilt",
        "how": {"by": "line", "step": "guide", "line": "e0", "angle": "45 deg"},
    }
    report, (kept,) = swept(STRAIGHT, guide, plane, profile=ROUND, cut_end={"kind": "step", "step": "tilt"})
    assert kept.body.volume() == pytest.approx(25 * math.pi * 60, rel=1e-7)
    assert report.data["numbers"]["volume"] == pytest.approx(25 * math.pi * 60, rel=1e-6)
    assert kept.body.valid()
    (cap,) = kept.body.face_of("sweep/cap/end")
    assert Body("cap", cap, ["cap"]).area() == pytest.approx(25 * math.pi * math.sqrt(2), rel=1e-6)
    longer, _ = swept(STRAIGHT, guide, plane, profile=ROUND, cut_end={"kind": "step", "step": "tilt"}, extend_start=10)
    assert longer.data["numbers"]["volume"] == pytest.approx(25 * math.pi * 70, rel=1e-6)
    assert longer.uses == ["path", "tilt"]
    far = {"kind": "datum", "id": "tilt", "name": "Far", "how": {"by": "offset", "plane": YZ, "distance": 300}}
    assert refused(STRAIGHT, guide, far, profile=ROUND, cut_end={"kind": "step", "step": "tilt"}).code == "plane-misses"
    assert refused(STRAIGHT, profile=ROUND, cut_start=YZ).code == "plane-misses"  # it ends there already
    assert refused(STRAIGHT, profile=ROUND, cut_end=XY).code == "no-side"  # the plane holds the path


def test_a_plane_may_leave_one_piece_only():
    """Beyond the plane are the end and a bend: the start and another bend are left."""
    hairpin = sketch("path", XZ, polyline((0, 0), (60, 0), (60, 60), (10, 60), (10, 120), (90, 120)))
    square = {
        "kind": "datum",
        "id": "tilt",
        "name": "Square",
        "how": {"by": "normal", "x": 30, "y": 0, "z": 0, "normal": [1, 0, 0], "along": None},
    }
    assert (
        refused(
            hairpin, square, profile=ROUND, corners="round", corner_radius=12, cut_end={"kind": "step", "step": "tilt"}
        ).code
        == "many-pieces"
    )


def test_a_wall_that_is_stretched_with_its_section_is_said():
    report, _ = swept(STRAIGHT, profile=ROUND, wall=1, size={"by": "ratio", "start": 1, "end": 2})
    (note,) = [m for m in report.messages if m.code == "wall-stretched"]
    assert "between 1 mm and 2 mm" in note.text


def test_another_process_finds_a_cut_sweep_with_its_numbers():
    class Kept(dict):
        put = dict.__setitem__

    store = Kept()
    cut = document(STRAIGHT, profile=ROUND, cut_end={"kind": "step", "step": "far"})
    cut.steps.insert(
        1,
        part(
            {
                "format": "leadline-part",
                "version": 1,
                "name": "P",
                "steps": [
                    {"kind": "datum", "id": "far", "name": "Far", "how": {"by": "offset", "plane": YZ, "distance": 70}}
                ],
            }
        ).steps[0],
    )
    first, again = (build(cut, Memory(), store) for _ in range(2))
    assert sorted(key.rsplit("/", 1)[1] for key in store) == ["box", "mesh", "solid"]
    for result in (first, again):
        assert result.reports["sweep"].data["numbers"]["volume"] == pytest.approx(25 * math.pi * 70, rel=1e-6)
        assert result.bodies[0].body.volume() == pytest.approx(25 * math.pi * 70, rel=1e-7)
