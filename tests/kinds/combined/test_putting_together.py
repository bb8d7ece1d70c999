"""Bodies that earlier steps made: put together, split, mirrored, moved and copied; volumes and places against closed
forms.
"""

import itertools
import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Plane
from leadline.core.repeat.grids import in_rows, moved_once, round_normal
from leadline.recipe.build import build
from tests.support.blocks import BOX, ROD
from tests.support.parts import XY, XZ, YZ, Shelf, circle, curve, part, polyline, sketch
from tests.support.shapes import Draw

SMALL = settings(max_examples=12, deadline=None)


def box(name, x, y, z, dx, dy, dz):
    """A box from a corner (x, y, z), as a step of its own."""
    drawn = sketch(f"s{name}", XY, polyline((x, y), (x + dx, y), (x + dx, y + dy), (x, y + dy), closed=True))
    return [
        drawn,
        {
            "kind": "extrude",
            "id": name,
            "name": name,
            "profile": {"step": f"s{name}"},
            "length": z + dz,
            "back": -z if z < 0 else 0,
        },
    ]


def put(steps, step):
    return build(
        part({"format": "leadline-part", "version": 1, "name": "Together", "units": "mm", "steps": [*steps, step]})
    )


def done(steps, step):
    """The report of the last step and the bodies after it, which are sound."""
    result = put(steps, step)
    report = result.reports[step["id"]]
    assert report.state == "fresh", report.messages
    assert all(k.body.valid() for k in result.bodies)
    return report, result.bodies


def refused(steps, step):
    report = put(steps, step).reports[step["id"]]
    assert report.state == "failed"
    (message,) = report.messages
    return message.code, message.place.get("field")


def combine(tools=("t",), **more):
    return {"kind": "combined", "id": "c", "name": "Together", "body": "b", "tools": list(tools), **more}


def split(cut, **more):
    return {"kind": "divided", "id": "c", "name": "Pieces", "body": "b", "cut": cut, **more}


def copies(how, plane=XY, source="b", **more):
    return {"kind": "arranged", "id": "c", "name": "Copies", "source": source, "plane": plane, "how": how, **more}


def volumes(bodies):
    return sorted(k.body.volume() * (1 if k.places is None else len(k.places)) for k in bodies)


# -- put together -----------------------------------------------------------------------------------

LENGTH = st.floats(2, 38)


@SMALL
@given(LENGTH, LENGTH, st.booleans())
def test_boxes_are_added_cut_and_kept_in_common(x, dx, keep):
    """Against the block 40 x 20 x 30 a tool that reaches from x on, half as wide and as high as the block."""
    steps = [*BOX, *box("t", x, 5, 0, dx, 10, 50)]
    inside, tool = min(dx, 40 - x) * 10 * 30, dx * 10 * 50
    for operation, volume in (("add", 24000 + tool - inside), ("cut", 24000 - inside), ("common", inside)):
        report, bodies = done(steps, combine(operation=operation, keep=keep))
        assert report.data["result"]["volume"] == pytest.approx(volume, rel=1e-9)
        kept = [k for k in bodies if k.step == "t"]
        assert [k.body.volume() for k in kept] == ([pytest.approx(tool)] if keep else [])
        assert sum(k.body.volume() for k in bodies) == pytest.approx(volume + keep * tool)


def test_a_body_put_together_is_still_the_first_ones_and_named_as_it_was():
    _, (whole,) = done([*BOX, *box("t", 30, 5, 0, 40, 10, 10)], combine())
    assert whole.step == "b"
    assert {n.split("/")[0] for n in whole.body.face_names} == {"b", "t"}


def test_all_copies_of_a_row_are_tools():
    row = {
        "kind": "arranged",
        "id": "row",
        "name": "Row",
        "source": "t",
        "plane": XY,
        "how": {"by": "rows", "count": 3, "spacing": 10},
    }
    steps = [*BOX, *box("t", 5, 5, 0, 4, 4, 50), row]
    report, bodies = done(steps, combine(["t", "row"], operation="cut"))
    assert report.data["result"]["volume"] == pytest.approx(24000 - 3 * 16 * 30)
    assert len(bodies) == 1


@pytest.mark.parametrize(
    ("step", "code", "field"),
    [
        (combine([]), "no-tools", "tools"),
        (combine(["b"]), "own-tool", "tools"),
        (combine(["sb"]), "no-body", "tools"),
    ],
)
def test_what_cannot_be_combined_is_said(step, code, field):
    assert refused([*BOX, sketch("sb", XY, circle(3))], step) == (code, field)


def test_bodies_that_stand_apart_stay_and_it_is_said():
    report, bodies = done([*BOX, *box("t", 100, 0, 0, 5, 5, 5)], combine(operation="cut"))
    assert [m.code for m in report.messages] == ["no-contact"]
    assert volumes(bodies) == pytest.approx([24000])


# -- split ------------------------------------------------------------------------------------------


def beside(distance, plane=XY):
    return {"kind": "datum", "id": "d", "name": "D", "how": {"by": "offset", "plane": plane, "distance": distance}}


D = {"by": "plane", "plane": {"kind": "step", "step": "d"}}


@SMALL
@given(st.floats(0.01, 29.99), st.sampled_from(["both", "ahead", "behind"]))
def test_a_plane_splits_a_block_and_the_sides_are_told_apart(height, keep):
    _, bodies = done([*BOX, beside(height)], split(D, keep=keep))
    ahead, behind = 800 * (30 - height), 800 * height
    wanted = {"both": [ahead, behind], "ahead": [ahead], "behind": [behind]}[keep]
    assert [k.body.volume() for k in bodies] == pytest.approx(wanted, rel=1e-8)
    assert [k.name for k in bodies] == (["Block 1", "Block 2"] if keep == "both" else ["Block"])
    assert all(k.body.face_names.count("c/cut") == 1 and k.step == "b" for k in bodies)


def test_a_sketch_splits_a_block_by_what_is_drawn():
    wave = sketch("w", XZ, curve((-5, 10), (15, 18), (30, 12), (45, 20)))
    cut = {"by": "drawing", "profile": {"step": "w"}}
    _, bodies = done([*BOX, wave], split(cut))
    assert sum(k.body.volume() for k in bodies) == pytest.approx(24000, rel=1e-7)
    assert len(bodies) == 2
    ring = sketch("w", XY, circle(5, 20, 10))
    _, (core,) = done([*BOX, ring], split(cut, keep="behind"))
    assert core.body.volume() == pytest.approx(math.pi * 25 * 30, rel=1e-7)


def test_a_surface_splits_a_rod():
    wall = [
        sketch("w", XZ, polyline((-20, 5), (20, 25))),
        {
            "kind": "extrude",
            "id": "wall",
            "name": "Wall",
            "profile": {"step": "w"},
            "surface": True,
            "length": 30,
            "back": 30,
        },
    ]
    _, bodies = done([*ROD, *wall], split({"by": "surface", "surface": "wall"}))
    pieces = [k for k in bodies if k.step == "b"]
    assert volumes(pieces) == pytest.approx(
        [math.pi * 1500] * 2, rel=1e-6
    )  # the wall crosses the axis at half the height
    assert len(bodies) == 3


@pytest.mark.parametrize(
    ("more", "step", "code", "field"),
    [
        ([beside(31)], split(D), "does-not-split", "cut"),
        ([beside(5)], split({"by": "surface", "surface": "b"}), "no-surface", "cut"),
        (
            [sketch("w", XZ, polyline((-5, 10), (30, 10)))],
            split({"by": "drawing", "profile": {"step": "w"}}),
            "does-not-split",
            "cut",
        ),
        ([beside(5), *box("t", 0, 0, 0, 1, 1, 1)], {**split(D), "body": "d"}, "no-body", "body"),
    ],
)
def test_what_does_not_split_is_said(more, step, code, field):
    assert refused([*BOX, *more], step) == (code, field)


def test_a_piece_between_two_surfaces_lies_on_no_side_of_them_alone():
    bars = sketch("w", XZ, polyline((-5, 10), (45, 10), (45, 20), (-5, 20)))
    step = split({"by": "drawing", "profile": {"step": "w"}})
    report, bodies = done([*BOX, bars], step)
    assert volumes(bodies) == pytest.approx([8000] * 3)
    assert report.figure == "3 pieces"
    turned = sketch("w", XZ, polyline((-5, 10), (45, 10), (45, 20), (-5, 20), closed=True))
    assert refused([*BOX, beside(10, XZ), turned], split({"by": "plane", "plane": YZ})) == ("does-not-split", "cut")


# -- mirrored, moved, copied ------------------------------------------------------------------------


@SMALL
@given(st.floats(-30, 70))
def test_a_mirrored_block_stands_on_the_other_side(at):
    _, bodies = done([*BOX, beside(at, YZ)], copies({"by": "mirror"}, {"kind": "step", "step": "d"}))
    (low, high), (x0, _) = bodies[1].body.box(), (2 * at - 40, 2 * at)
    assert (low[0], high[0]) == pytest.approx((x0, 2 * at), abs=1e-5)
    assert bodies[1].body.volume() == pytest.approx(24000)
    assert all(n.startswith("c/") for n in bodies[1].body.face_names)
    assert (bodies[1].step, bodies[0].step) == ("c", "b")


def test_half_a_part_is_mirrored_and_added():
    report, (whole,) = done(BOX, copies({"by": "mirror"}, YZ, result="add"))
    assert report.data["result"]["volume"] == pytest.approx(48000)
    assert len(whole.body.face_names) == 6


def test_a_coil_is_mirrored_into_one_of_the_other_hand():
    steps = [
        {"kind": "helix", "id": "h", "name": "H", "plane": XY, "radius": 20, "pitch": 10, "turns": 2},
        {"kind": "sweep", "id": "b", "name": "Coil", "path": {"step": "h"}, "profile": {"quick": "round", "width": 4}},
    ]
    _, (coil,) = done(steps, copies({"by": "mirror", "keep": False}))
    low, high = coil.box()
    assert (low[2], high[2]) == pytest.approx((-22, 2), abs=0.05)
    assert coil.body.volume() == pytest.approx(math.pi * 4 * 2 * math.hypot(math.tau * 20, 10), rel=1e-6)


@SMALL
@given(st.integers(1, 5), st.integers(1, 4), st.floats(45, 90), st.floats(25, 90))
def test_rows_stand_where_they_are_meant(n, m, dx, dy):
    if n * m < 2:
        assert refused(BOX, copies({"by": "rows", "count": n, "spacing": dx, "count_y": m, "spacing_y": dy})) == (
            "no-copies",
            "how",
        )
        return
    report, bodies = done(BOX, copies({"by": "rows", "count": n, "spacing": dx, "count_y": m, "spacing_y": dy}))
    assert report.messages == []
    assert report.data["count"] == n * m
    assert sum(volumes(bodies)) == pytest.approx(24000 * n * m)
    places = bodies[1].places
    shifts = [(0.0, 0.0, 0.0)] if places is None else places.shifts.tolist()
    if places is None:
        assert np.array(bodies[1].body.box()[0]) == pytest.approx(
            [dx if n == 2 else 0, dy if m == 2 else 0, 0], abs=1e-5
        )
    else:
        assert sorted(map(tuple, np.round(shifts, 9))) == sorted(
            (round(i * dx, 9), round(j * dy, 9), 0.0) for i in range(n) for j in range(m) if i or j
        )


def test_copies_round_an_axis_and_copies_of_those():
    ring, bodies = done(box("b", 20, -2, 0, 10, 4, 5), copies({"by": "round", "count": 6}))
    assert ring.data["count"] == 6
    middles = bodies[1].places.moved(np.array([[25.0, 0, 0]]))[:, 0]
    assert np.degrees(np.arctan2(middles[:, 1], middles[:, 0])) % 360 == pytest.approx([60, 120, 180, 240, 300])
    again = {
        "kind": "arranged",
        "id": "up",
        "name": "Up",
        "source": "c",
        "plane": XY,
        "how": {"by": "move", "out": 50, "turn": 30, "keep": True},
    }
    result = put([*box("b", 20, -2, 0, 10, 4, 5), copies({"by": "round", "count": 6})], again)
    assert result.reports["up"].state == "fresh", result.reports["up"].messages
    low, high = result.bodies[-2].body.box()  # the first of the six, a body of its own
    assert np.degrees(np.arctan2(*((low + high) / 2)[1::-1])) == pytest.approx(30, abs=1e-3)
    above = result.bodies[-1].places.moved(np.array([[25.0, 0, 0]]))[:, 0]
    assert above[:, 2] == pytest.approx(50)
    assert np.degrees(np.arctan2(above[:, 1], above[:, 0])) % 360 == pytest.approx([90, 150, 210, 270, 330])
    other = put(
        [*box("b", 20, -2, 0, 10, 4, 5), copies({"by": "round", "count": 6, "angle": 90, "rise": 3})],
        {**again, "how": {"by": "mirror"}, "plane": XZ},
    )
    mirrored, row = other.bodies[-1], other.bodies[1].places
    seen = np.array(
        [
            singled.box()
            for singled in (
                mirrored.body.moved(t, d) for t, d in zip(mirrored.places.turns, mirrored.places.shifts, strict=True)
            )
        ]
    )
    before = np.array([other.bodies[1].body.moved(t, d).box() for t, d in zip(row.turns, row.shifts, strict=True)])
    assert seen[:, 0, [0, 2]] == pytest.approx(before[:, 0, [0, 2]], abs=1e-5)
    assert seen[:, 0, 1] == pytest.approx(-before[:, 1, 1], abs=1e-5)


@SMALL
@given(st.lists(st.floats(-50, 50), min_size=3, max_size=3), st.floats(-180, 180), st.booleans())
def test_a_moved_body_goes_where_the_plane_says_and_leaves_nothing_behind(shift, turn, keep):
    x, y, out = shift
    _, bodies = done(BOX, copies({"by": "move", "x": x, "y": y, "out": out, "turn": turn, "keep": keep}, XZ))
    assert len(bodies) == 1 + keep
    plane = Plane(
        np.zeros(3), np.array([1.0, 0, 0]), np.array([0, 0, 1.0])
    )  # XZ, seen from the front: its normal is -y
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    u, v, w = 20, 15, -10  # the middle of the block in the plane's directions
    wanted = (c * u - s * v + x) * plane.x + (s * u + c * v + y) * plane.y + (w + out) * plane.normal
    assert bodies[-1].body.centre() == pytest.approx(tuple(wanted), abs=1e-6)


def test_copies_that_touch_are_told_and_can_be_added():
    report, _ = done(BOX, copies({"by": "rows", "count": 3, "spacing": 39}))
    assert [m.code for m in report.messages] == ["copies-touch"]
    report, (whole,) = done(BOX, copies({"by": "rows", "count": 3, "spacing": 39}, result="add"))
    assert whole.body.volume() == pytest.approx(118 * 20 * 30)


def test_holes_are_copied_out_of_another_body():
    steps = [*box("plate", 0, 0, 0, 100, 40, 5), *box("b", 5, 5, 0, 4, 4, 9)]
    holes = copies({"by": "rows", "count": 5, "spacing": 20, "count_y": 2, "spacing_y": 20}, result="cut")
    last = {"kind": "combined", "id": "last", "name": "L", "body": "plate", "tools": ["b"], "operation": "cut"}
    _, (plate,) = done([*steps, holes], last)
    assert plate.body.volume() == pytest.approx(100 * 40 * 5 - 10 * 16 * 5)


@pytest.mark.parametrize(
    ("how", "code"),
    [
        ({"by": "rows", "count": 3, "spacing": 0}, "bad-size"),
        ({"by": "rows", "count": 2.5, "spacing": 9}, "bad-count"),
        ({"by": "rows", "count": 30000, "spacing": 9}, "too-many-copies"),
        ({"by": "round", "count": 1}, "no-copies"),
        ({"by": "round", "count": 4, "angle": 0}, "bad-size"),
    ],
)
def test_copies_that_cannot_be_placed_are_said(how, code):
    assert refused(BOX, copies(how)) == (code, "how")


def test_places_of_places_and_mirrored_moves():
    random = np.random.default_rng(7)
    plane = Plane(np.array([3.0, -2, 5]), np.array([0.6, 0.8, 0]), np.array([-0.8, 0.6, 0]))
    outer, inner = round_normal(plane, 5, math.tau, 2.0), in_rows(plane, (3, 2), (7, 4))
    points = random.normal(size=(4, 3)) * 20
    both = outer.of_each(inner).moved(points)
    assert np.allclose(both, np.array([outer.moved(inside)[i] for i in range(5) for inside in inner.moved(points)]))
    flip = np.eye(3) - 2 * np.outer(plane.normal, plane.normal)

    def seen(p):
        return (p - plane.origin) @ flip + plane.origin

    turned = Placements(outer.turns, outer.shifts + np.array([1.0, 2, 3]))
    assert np.allclose(turned.mirrored(plane.normal, plane.origin).moved(seen(points)), seen(turned.moved(points)))
    there = moved_once(plane, np.array([1.0, 2, 3]), 0.4)
    assert np.allclose(there.moved(plane.origin[None])[0, 0], plane.origin + plane.x + 2 * plane.y + 3 * plane.normal)


# -- extruded up to something -----------------------------------------------------------------------


def slanted(angle, distance):
    """A plane that leans about the x axis, ``distance`` above the origin."""
    return [
        beside(distance),
        {
            "kind": "datum",
            "id": "lean",
            "name": "Lean",
            "how": {"by": "angle", "plane": {"kind": "step", "step": "d"}, "axis": "x", "angle": angle},
        },
    ]


def up_to(until, profile="s", **more):
    return {
        "kind": "extrude",
        "id": "c",
        "name": "Up to",
        "profile": {"step": profile},
        "length": 5,
        "until": until,
        **more,
    }


LEAN = {"kind": "step", "step": "lean"}


@SMALL
@given(st.floats(-40, 40), st.sampled_from([30.0, -30.0]), st.floats(0, 4), st.floats(0, 6))
def test_a_rod_ends_on_a_slanted_plane_before_or_behind_it(angle, distance, short, back):
    """A plane cuts a rod's end off so that its middle is as long as the rod would be square."""
    report, (rod,) = done(
        [sketch("s", XY, circle(10)), *slanted(angle, distance)],
        up_to({"by": "plane", "plane": LEAN, "short": short}, back=back),
    )
    assert rod.body.volume() == pytest.approx(math.pi * 100 * (30 - short + back), rel=1e-6)
    low, high = rod.body.box()
    assert (low[2] if distance > 0 else high[2]) == pytest.approx(-back if distance > 0 else back, abs=1e-5)
    assert report.data["checks"]["valid"]


def test_a_rod_off_the_origin_ends_on_a_face_of_another_body():
    wedge = [
        sketch("w", YZ, polyline((-20, 40), (60, 60), (60, 70), (-20, 70), closed=True)),
        {"kind": "extrude", "id": "w1", "name": "Wedge", "profile": {"step": "w"}, "length": 50, "back": 50},
    ]
    face = {"step": "w1", "face": "w1/side/e0/0"}
    _, bodies = done([*wedge, sketch("s", XY, circle(4, 10, 30))], up_to({"by": "face", "face": face}))
    assert bodies[1].body.volume() == pytest.approx(math.pi * 16 * (40 + 20 * 50 / 80), rel=1e-6)
    report, _ = done([*wedge, sketch("s", XY, circle(4, 10, 30))], up_to({"by": "face", "face": face}, result="add"))
    assert report.messages == []


@pytest.mark.parametrize(
    ("more", "until", "code", "field"),
    [
        ([beside(10, XZ)], {"by": "plane", "plane": {"kind": "step", "step": "d"}}, "never-there", "until"),
        (slanted(80, 10), {"by": "plane", "plane": LEAN}, "across-its-end", "until"),
        (slanted(0, 10), {"by": "plane", "plane": LEAN, "short": 10}, "bad-size", "until"),
        ([], {"by": "plane", "plane": XY}, "across-its-end", "until"),
        ([beside(10)], {"by": "face", "face": {"step": "gone", "face": "gone/cap/end"}}, "deleted-reference", "until"),
    ],
)
def test_an_end_that_is_not_reached_is_said(more, until, code, field):
    assert refused([sketch("s", XY, circle(10)), *more], up_to(until)) == (code, field)


@SMALL
@given(st.integers(1, 4), st.data())
def test_pieces_are_dropped_by_their_middles_and_hold_through_small_changes(cuts, data):
    """A bar of 40 mm cut by upright walls: pieces of known volumes, some of which do not stay."""
    at = sorted(data.draw(st.lists(st.floats(4, 36), min_size=cuts, max_size=cuts)))
    widths = np.diff([0.0, *at, 40.0])
    assume(widths.min() > 1.5)
    walls = [sketch("w", XY, _walls(at))]
    gone = data.draw(st.sets(st.integers(0, cuts), max_size=cuts))
    middles = np.cumsum([0.0, *widths[:-1]]) + widths / 2
    dropped = [{"x": middles[k] + 0.2, "y": 10, "z": 15} for k in gone]
    step = split({"by": "drawing", "profile": {"step": "w"}}, dropped=dropped)
    report, bodies = done([*BOX, *walls], step)
    assert volumes(bodies) == pytest.approx(sorted(w * 600 for k, w in enumerate(widths) if k not in gone), rel=1e-6)
    assert sum(p["kept"] for p in report.data["parts"]) == cuts + 1 - len(gone)
    assert sum(p["volume"] for p in report.data["parts"]) == pytest.approx(24000, rel=1e-6)
    everywhere = [{"x": m, "y": 10, "z": 15} for m in middles]
    assert refused([*BOX, *walls], {**step, "dropped": everywhere}) == ("no-piece-left", "dropped")


def _walls(at):
    d = Draw()
    for i, x in enumerate(at):
        d.point(f"a{i}", x, -5)
        d.point(f"b{i}", x, 25)
        d.line(f"l{i}", f"a{i}", f"b{i}")
    return d


def test_a_hole_goes_through_all_that_is_there_however_much_that_is():
    drill = [
        sketch("hole", XY, circle(4, 20, 10)),
        {
            "kind": "extrude",
            "id": "c",
            "name": "Hole",
            "profile": {"step": "hole"},
            "length": 1,
            "until": {"by": "all"},
            "result": "cut",
        },
    ]
    for height in (0, 90):  # another block in the same place, three times as high
        more = box("t", 0, 0, 0, 40, 20, height) if height else []
        _, bodies = done([*BOX, *more, drill[0]], drill[1])
        assert sum(volumes(bodies)) == pytest.approx(24000 + 800 * height - math.pi * 16 * (30 + height), rel=1e-9)
    alone = {**drill[1], "result": "separate"}
    _, bodies = done([*BOX, drill[0]], alone)
    assert len(bodies) == 2
    assert refused([drill[0]], alone) == ("nothing-ahead", "until")


def test_what_goes_through_all_is_found_again_by_another_process():
    hole = [
        sketch("hole", XY, circle(4, 20, 10)),
        {"kind": "extrude", "id": "c", "name": "Pin", "profile": {"step": "hole"}, "length": 1, "until": {"by": "all"}},
    ]
    document = part({"format": "leadline-part", "version": 1, "name": "Through", "units": "mm", "steps": [*BOX, *hole]})
    store = Shelf()
    first = build(document, store=store)
    again = build(document, store=store)
    assert [k.key for k in again.bodies] == [k.key for k in first.bodies]
    assert again.reports["c"].data["length"] == first.reports["c"].data["length"] > 30
    quick = build(document, quick=True)
    assert quick.reports["c"].data["length"] == 1  # as long as it says, until the bodies before it are there


def under_a_rod(radius, at, r, x, length=5):
    """A pillar of radius r that stands x beside the middle under a rod along y, whose axis is ``at`` high, and goes up
    to its side.
    """
    return [
        sketch("round", XZ, circle(radius, 0, at)),
        {"kind": "extrude", "id": "rod", "name": "Rod", "profile": {"step": "round"}, "length": 40, "back": 40},
        sketch("s", XY, circle(r, x, 0)),
        up_to({"by": "side", "face": {"step": "rod", "face": "rod/side/ring/0"}}, length=length),
    ]


@SMALL
@given(st.floats(12, 30), st.floats(1, 8), st.floats(-0.9, 0.9))
def test_a_pillar_ends_at_the_side_of_a_rod(radius, r, share):
    x = share * (radius - r - 1)
    *steps, pillar = under_a_rod(radius, 50, r, x)
    report, bodies = done(steps, pillar)
    t, w = np.polynomial.legendre.leggauss(60)
    across = x + r * t
    volume = float((w * r * 2 * np.sqrt(r**2 - (r * t) ** 2) * (50 - np.sqrt(radius**2 - across**2))).sum())
    (own,) = [k for k in bodies if k.step == "c"]
    assert own.body.volume() == pytest.approx(volume, rel=1e-4)
    assert report.data["numbers"]["volume"] == pytest.approx(own.body.volume())
    assert own.shown().volume() == pytest.approx(volume, rel=5e-3)


def test_what_a_side_does_not_end_is_said_and_what_it_ends_is_found_again():
    *steps, pillar = under_a_rod(12, 50, 20, 0)
    assert refused(steps, pillar) == ("side-misses", "until")
    *steps, pillar = under_a_rod(12, -50, 3, 0)
    assert refused(steps, pillar) == ("nothing-ahead", "until")
    *steps, pillar = under_a_rod(12, 50, 3, 0)
    gone = {**pillar, "until": {"by": "side", "face": {"step": "rod", "face": "rod/side/gone/0"}}}
    assert refused(steps, gone) == ("deleted-reference", "until")
    assert refused(steps, {**pillar, "taper": 5}) == ("taper-ahead", "taper")
    kept = Shelf()
    document = part(
        {"format": "leadline-part", "version": 1, "name": "Together", "units": "mm", "steps": [*steps, pillar]}
    )
    first, again = (build(document, None, kept) for _ in range(2))
    assert again.reports["c"].data == first.reports["c"].data
    assert build(document, quick=True).reports["c"].data["numbers"]["length"] == 5


# -- several tools ----------------------------------------------------------------------------------


@settings(max_examples=25, deadline=None)
@given(
    st.lists(
        st.tuples(st.floats(-5, 38), st.floats(1, 20), st.floats(-5, 18), st.floats(1, 16)), min_size=2, max_size=4
    ),
    st.booleans(),
)
def test_what_several_tools_have_in_common_with_a_body_is_there_once(boxes, through):
    """Against the area of the union of rectangles, told on the grid of all their edges."""
    tools = [
        box(f"t{i}", x, y, -1 if through else 0, dx, dy, 40 if through else 10)
        for i, (x, dx, y, dy) in enumerate(boxes)
    ]
    xs, ys = (
        sorted({0.0, most, *(min(max(v, 0.0), most) for a in boxes for v in (a[k], a[k] + a[k + 1]))})
        for k, most in ((0, 40.0), (2, 20.0))
    )
    area = sum(
        (b - a) * (d - c)
        for a, b in itertools.pairwise(xs)
        for c, d in itertools.pairwise(ys)
        if any(x <= (a + b) / 2 <= x + dx and y <= (c + d) / 2 <= y + dy for x, dx, y, dy in boxes)
    )
    gaps = [abs(a - b) for v in (xs, ys) for a, b in itertools.combinations(v, 2)]
    assume(min(gaps) > 0.05)
    result = put(
        [*BOX, *(s for t in tools for s in t)], combine([f"t{i}" for i in range(len(tools))], operation="common")
    )
    if area == 0:
        assert [m.code for m in result.reports["c"].messages] == ["nothing-in-common"]
        return
    assert result.reports["c"].state == "fresh", result.reports["c"].messages
    assert sum(volumes(result.bodies)) == pytest.approx(area * (30 if through else 10), rel=1e-7)


def test_bodies_that_have_nothing_in_common_are_refused():
    assert refused([*BOX, *box("t", 100, 0, 0, 5, 5, 5)], combine(operation="common")) == ("nothing-in-common", "tools")


def test_copies_of_copies_and_tools_have_the_first_one_too():
    ring = copies({"by": "round", "count": 5})
    row = {
        "kind": "arranged",
        "id": "row",
        "name": "Row",
        "source": "c",
        "plane": XY,
        "how": {"by": "rows", "count": 3, "spacing": 200},
    }
    _, bodies = done([*box("b", 20, -2, 0, 4, 4, 12), ring], row)
    assert sum(k.count for k in bodies) == 15
    plate = box("plate", -50, -50, 0, 100, 100, 5)
    cutting = {"kind": "combined", "id": "last", "name": "L", "body": "plate", "tools": ["c"], "operation": "cut"}
    _, (left,) = done([*plate, *box("b", 20, -2, 0, 4, 4, 12), ring], cutting)
    assert left.body.volume() == pytest.approx(50000 - 5 * 80)
    _, left_and_first = done([*plate, *box("b", 20, -2, 0, 4, 4, 12)], {**ring, "result": "cut"})
    assert sorted(volumes(left_and_first)) == pytest.approx([4 * 4 * 12, 50000 - 5 * 80])
