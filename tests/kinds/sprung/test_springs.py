"""Springs: formulas against cases worked by hand, the rate of wires against closed forms, turns that close, and the
solid of each kind.
"""

import math

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from leadline.core.geometry.plane import Plane
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, HelixPiece
from leadline.core.problems import Problem
from leadline.core.trades import spring_design, springs
from leadline.core.trades.closing import closing
from leadline.core.trades.spring_wire import (
    Seat,
    close_coil,
    close_extension_path,
    coil_path,
    compression_coil,
    extension_path,
)
from leadline.core.trades.springs import WIRES, Coils
from leadline.core.trades.wire_rate import compliance
from leadline.recipe.asking import answer
from leadline.recipe.build import Memory, build
from leadline.recipe.sheets import as_csv, as_json, make_sheet
from tests.support.parts import bar, part
from tests.support.springs import FLAT, built, document, refused, spring

X, Y, Z = np.eye(3)
STEEL = WIRES["SM"]


def heights(result) -> tuple[float, float]:
    """The lowest and the highest point of all bodies' meshes."""
    z = np.concatenate([b.shown().points[:, 2] for b in result.bodies])
    return float(z.min()), float(z.max())


def sheet_of(**fields):
    return make_sheet(document(spring(**fields)), "s", "spring", Memory())


# -- formulas ----------------------------------------------------------------------------------------


def test_the_check_case_of_a_compression_spring():
    coils = Coils(2, 16, 6, 8)
    assert springs.rate(coils, 81500) == pytest.approx(6.632, abs=5e-4)
    assert springs.shear_stress(coils, 60) == pytest.approx(305.6, abs=0.05)
    assert springs.correction(coils.index) == pytest.approx(1.172, abs=5e-4)
    assert springs.solid_length(coils, "ground") == 16
    assert springs.solid_length(coils, "closed") == 19
    assert springs.least_gaps(coils) == pytest.approx(6 * (0.0015 * 256 / 2 + 0.2))


def test_wires_have_the_strengths_of_their_standard():
    assert WIRES["SL"].strength(1) == 1720
    assert WIRES["SM"].strength(10) == pytest.approx(1240)
    assert WIRES["SH"].strength(2) == pytest.approx(2220 - 820 * math.log10(2))


@given(wire=st.floats(0.2, 12), index=st.floats(4, 20), turns=st.floats(2, 30))
def test_a_torsion_spring_bends_as_a_straight_wire_of_its_length(wire, index, turns):
    """E I / (π D n) for each radian is the standard's formula but for its rounded 3667 (64 x 180 / π = 3666.9)."""
    coils = Coils(wire, wire * index, turns, turns)
    straight = 206000 * math.pi * wire**4 / 64 / (math.pi * coils.mean * turns) * math.pi / 180
    assert springs.torsion_rate(coils, 206000) == pytest.approx(straight, rel=1e-4)


@given(turned=st.floats(0, 6), turns=st.floats(2, 20))
def test_a_torsion_spring_that_is_turned_keeps_its_wire(turned, turns):
    coils = Coils(2, 20, turns, turns)
    mean = springs.inner_when_wound(coils, turned) + 2
    assert mean * (turns + turned / (2 * math.pi)) == pytest.approx(20 * turns)


def test_a_spring_buckles_only_when_it_is_slender():
    slim, stout = Coils(2, 16, 20, 22), Coils(2, 16, 4, 6)
    at = springs.buckles_at(slim, 120, STEEL, 0.5)
    assert at is not None
    assert 0 < at < 120
    assert springs.buckles_at(stout, 30, STEEL, 0.5) is None
    assert springs.buckles_at(slim, 120, STEEL, 1.0) < at  # held less


def test_a_stress_on_the_endurance_line_uses_all_of_it():
    assert springs.goodman_share(0, 2 * 200, 900, 200) == pytest.approx(1)
    assert springs.goodman_share(900, 900, 900, 200) == pytest.approx(1)
    assert springs.goodman_share(400, 400, 900, 200) == pytest.approx(4 / 9)


# -- the rate of any wire ------------------------------------------------------------------------------


@settings(max_examples=25)
@given(diameter=st.floats(8, 60), pitch=st.floats(1, 40), turns=st.floats(1, 12), wire=st.floats(0.5, 4))
def test_a_helix_has_the_rate_of_its_closed_form(diameter, pitch, turns, wire):
    helix = Path([HelixPiece(np.zeros(3), X, Y, diameter / 2, pitch, turns)])
    found = compliance(helix, wire, 81500, 206000, through=np.zeros(3), along=Z)
    alpha = math.atan(pitch / (math.pi * diameter))
    polar = math.pi * wire**4 / 32
    closed = (
        math.pi
        * diameter**3
        * turns
        / (4 * math.cos(alpha))
        * (math.cos(alpha) ** 2 / (81500 * polar) + math.sin(alpha) ** 2 / (206000 * polar / 2))
    )
    assert found == pytest.approx(closed, rel=1e-9)


def test_a_half_ring_that_is_pulled_at_its_ends_bends_as_the_book_says():
    """δ/F = π r³ / (2 E I) for the ends of a half ring along the line between them; with shear and pull F r π/(2 A)
    (1/E + 10/(9 G)) more.
    """
    ring = Path([ArcPiece(np.zeros(3), X, Y, 30, math.pi)])
    inertia, area = math.pi * 2**4 / 64, math.pi
    plain = math.pi * 30**3 / (2 * 206000 * inertia)
    assert compliance(ring, 2, 81500, 206000) == pytest.approx(plain, rel=1e-9)
    more = math.pi * 30 / (2 * area) * (1 / 206000 + 10 / 9 / 81500)
    assert compliance(ring, 2, 81500, 206000, other_terms=True) == pytest.approx(plain + more, rel=1e-9)


# -- turns that close --------------------------------------------------------------------------------


def even(turns: float = 8, pitch: float = 7, wire: float = 2, radius: float = 8):
    return closing(
        turns * pitch, turns, wire, 81500, lambda u: np.full(len(u), radius), lambda u: np.full(len(u), pitch), 1.0
    )


def test_even_turns_close_together_at_the_rate_of_the_formula():
    closed = even()
    rate = springs.rate(Coils(2, 16, 6, 8), 81500)
    assert closed.rate() == pytest.approx(rate, rel=1e-9)
    assert closed.solid == pytest.approx(56 - 6 * 5)
    assert closed.solid_force == pytest.approx(rate * 30)


@given(share=st.floats(0, 1))
def test_length_and_force_are_each_others_inverse(share):
    conical = closing(60, 8, 2, 81500, lambda u: 14 - u * 0.8, lambda u: 4 + u * 0.4, 0.0)
    length = conical.free - share * conical.travel
    assert conical.length_at(conical.force_at(length)) == pytest.approx(length, abs=1e-9)


def test_a_conical_spring_stiffens_as_its_wide_turns_close_and_may_lie_in_itself():
    conical = closing(60, 8, 2, 81500, lambda u: 14 - u * 0.8, lambda u: np.full(len(u), 7.0), 0.0)
    lengths, forces = conical.curve(200)
    slopes = np.diff(forces) / -np.diff(lengths)
    assert (np.diff(slopes) > -1e-9).all()
    assert slopes[-1] > 3 * slopes[0]
    seat = math.sqrt(2**2 - 0.8**2)
    assert conical.solid == pytest.approx(60 - 8 * (7 - seat))
    nested = closing(60, 4, 2, 81500, lambda u: 20 - 3 * u, lambda u: np.full(len(u), 7.0), 0.0)
    assert nested.travel == pytest.approx(4 * 7)


SHAPES = [  # mean diameters at the start, in the middle and at the end
    (16, 22, 16),
    (20, 12, 20),
    (24, 20, 12),
    (14, 14, 14),
    (15, 23, 19),
]


@pytest.mark.parametrize("shape", SHAPES)
def test_a_barrel_and_an_hourglass_have_the_rate_and_the_wire_of_their_own_radius(shape):
    """Against integrals over the parabola that has its diameters: 64 r³/(G d⁴) for what it gives, the arc of the wire
    for its length.
    """
    first, middle, last = shape
    report, result = built(diameter=first, middle_diameter=middle, end_diameter=last, ends="open")

    def radius(u):
        return np.polyval(np.polyfit([0, 3, 6], np.array(shape) / 2, 2), u)

    gives = quad(lambda u: 64 * radius(u) ** 3 / (STEEL.shear_modulus * 2**4), 0, 6)[0]
    assert report.data["spring"]["rate"] == pytest.approx(1 / gives, rel=1e-4)  # its turns are taken in cells
    slope = np.polyder(np.polyfit([0, 3, 6], np.array(shape) / 2, 2))
    pitch = (42 - 2) / 6
    wire = quad(lambda u: math.sqrt(np.polyval(slope, u) ** 2 + (2 * math.pi * radius(u)) ** 2 + pitch**2), 0, 6)[0]
    assert report.data["spring"]["wire_length"] == pytest.approx(wire, rel=1e-7)
    (body,) = [b.body for b in result.bodies]
    assert body.valid()
    assert body.volume() == pytest.approx(math.pi * wire, rel=1e-3)
    across = np.hypot(*result.bodies[0].shown().points[:, :2].T)
    u = np.linspace(0, 6, 4001)
    assert across.max() == pytest.approx(radius(u).max() + 1, abs=0.06)
    assert across.min() == pytest.approx(radius(u).min() - 1, abs=0.06)


@pytest.mark.parametrize("ends", ["open", "closed", "ground"])
@pytest.mark.parametrize("pitches", [[1, 2], [2, 1, 2], [1, 1, 1, 3], [4, 4]])
def test_turns_of_a_tabled_pitch_close_one_after_the_other(pitches, ends):
    """The force at each length against a sum of fine pieces of the open turns, each of which closes when its own gap is
    used up.
    """
    report, result = built(free=60, pitches=pitches, ends=ends)
    told = report.data["spring"]
    coil = compression_coil(2, (16, 16), 6, 0 if ends == "open" else 1, 60 - (0 if ends == "ground" else 2), pitches)
    assert coil.height == pytest.approx(60 - (0 if ends == "ground" else 2), abs=1e-9)
    total = 6 if ends == "open" else 8
    solid = 2 * (total if ends == "ground" else total + 1.5)
    assert told["solid"] == pytest.approx(solid)
    shape = np.interp((np.arange(60000) + 0.5) / 60000, np.linspace(0, 1, len(pitches)), pitches)
    open_pitch = shape / shape.mean() * (coil.height - 2 * (total - 6)) / 6
    each, gap = 64 * 8**3 / (STEEL.shear_modulus * 2**4), open_pitch - 2
    gap *= (60 - solid) / (6 * gap.mean())
    for length, force in list(zip(told["at"], told["force"], strict=True))[::7]:
        travel = float(np.minimum(each * force, gap).mean()) * 6
        assert 60 - travel == pytest.approx(length, abs=0.002)
    slopes = np.diff(told["force"]) / -np.diff(told["at"])
    assert (np.diff(slopes) > -1e-6).all()
    if len(set(pitches)) > 1:
        assert slopes[-1] > 1.3 * slopes[0]
    assert all(b.body.valid() for b in result.bodies)


@pytest.mark.parametrize(
    ("code", "field", "fields"),
    [
        ("bad-size", "pitches", {"pitches": [1]}),
        ("bad-size", "pitches", {"pitches": [1, 0]}),
        ("pitch-too-small", "pitches", {"pitches": [1, 30]}),
        ("free-too-short", "free", {"pitches": [1, 2], "free": 12}),
        ("wire-too-thick", "middle_diameter", {"middle_diameter": 2}),
        ("wire-too-thick", "middle_diameter", {"diameter": 16, "middle_diameter": 2.6, "end_diameter": 6}),
    ],
)
def test_a_shape_that_is_no_spring_is_refused_with_its_field(code, field, fields):
    assert refused(code, **fields).place["field"] == field


def test_a_spring_that_is_not_even_is_told_its_room_where_it_is_widest_and_narrowest():
    barrel = {"diameter": 16, "middle_diameter": 24, "end_diameter": 16}
    report, _ = built(**barrel, bore=22)
    assert [m.code for m in report.messages if m.place.get("field") == "bore"] == ["no-room"]
    report, _ = built(diameter=24, end_diameter=12, rod=14)
    assert [m.code for m in report.messages if m.place.get("field") == "rod"] == ["no-room"]
    sheet = as_json(make_sheet(document(spring(**barrel)), "s", "spring", Memory()))
    assert [sheet[size] for size in ("outer", "mean", "inner")] == pytest.approx([26, (16 + 4 * 24 + 16) / 6, 14])
    narrow = built(diameter=24, middle_diameter=7.5, end_diameter=24)[0]
    assert [m.code for m in narrow.messages if m.code == "spring-index"] == ["spring-index"]


@given(
    active=st.floats(1, 12), ends=st.one_of(st.sampled_from([1.0, 2.0, 0.5]), st.floats(0, 3)), wire=st.floats(0.5, 3)
)
@example(active=6.08, ends=1.0000000000000004, wire=2)
def test_no_two_knots_of_a_coil_are_one_but_for_rounding(active, ends, wire):
    """Else a cell of its table has no length: with 6.08 turns and one closed turn at each end there was one."""
    coil = compression_coil(wire, (20.0, 24.0), active, ends, 4 * wire * (active + 2 * ends))
    (piece,) = coil_path(coil, Seat(Plane(np.zeros(3), X, Y), 0.0, "right")).pieces
    assert np.diff(np.unique(piece.curve.t)).min() > 1e-7
    assert np.isfinite(piece.point(np.linspace(0, piece.length, 50))).all()


@pytest.mark.parametrize(("length", "code"), [(57, "longer-than-free"), (25, "solid-before")])
def test_a_length_that_a_spring_cannot_have_is_refused(length, code):
    with pytest.raises(Problem) as refusal:
        even().force_at(length)
    assert refusal.value.message.code == code


# -- the wire ----------------------------------------------------------------------------------------


@settings(max_examples=20)
@given(share=st.floats(0, 0.95), active=st.floats(3, 12), ends=st.floats(0, 2))
def test_a_loaded_coil_keeps_its_wire_and_has_its_length(share, active, ends):
    coil = compression_coil(2, (16, 16), active, ends, 8 * active)
    closed = coil.closing(coil.height, 81500)
    length = coil.height - share * closed.travel
    loaded = coil.loaded(closed, closed.force_at(length))
    assert loaded.height == pytest.approx(length, abs=1e-6)
    seat = Seat(Plane(np.zeros(3), X, Y), 0.0, "right")
    assert coil_path(loaded, seat).length == pytest.approx(coil_path(coil, seat).length, rel=2e-5)


@pytest.mark.parametrize("hand", ["right", "left"])
@pytest.mark.parametrize("loops", [("half", "full"), ("full", "side"), ("side", "none")])
def test_loops_go_on_from_the_coil_without_a_corner_and_end_at_its_axis(loops, hand):
    coil = compression_coil(2, (16, 16), 6, 0, 6 * 2.02)
    path = extension_path(coil, Seat(Plane(np.zeros(3), X, Y), 0.4, hand), loops)
    assert {j.kind for j in path.joints} == {"tangent"}
    for end, loop in zip(path.point(np.array([0.0, path.length])), loops, strict=True):
        if loop == "full":
            assert np.hypot(*end[:2]) == pytest.approx(0, abs=1e-9)


# -- the step ----------------------------------------------------------------------------------------


def test_a_closed_and_ground_spring_stands_between_two_planes_as_long_as_it_is():
    report, result = built(loads=[{"id": "a", "by": "length", "length": 32}])
    (body,) = [b.body for b in result.bodies]
    assert body.valid()
    assert heights(result) == pytest.approx((0, 42), abs=1e-6)
    assert report.data["spring"]["rate"] == pytest.approx(6.632, abs=5e-4)
    (load,) = report.data["spring"]["loads"]
    assert load["force"] == pytest.approx(10 * 6.6325, rel=1e-4)
    pressed, result = built(loads=[{"id": "a", "by": "length", "length": 32}], shown_under="a")
    assert heights(result) == pytest.approx((0, 32), abs=1e-4)
    assert pressed.data["spring"]["wire_length"] == report.data["spring"]["wire_length"]


@pytest.mark.parametrize("ends", ["open", "closed"])
def test_a_spring_that_is_not_ground_is_as_long_with_its_wire(ends):
    _, result = built(ends=ends)
    assert np.ptp(heights(result)) == pytest.approx(42, abs=0.02)


def test_an_extension_spring_is_longer_by_what_it_is_pulled():
    """From F = F0 + R s."""
    fields = {"duty": "extension", "turns": 10.25, "initial": 8, "loads": [{"id": "a", "by": "force", "force": 40}]}
    free, result = built(**fields)
    spring = free.data["spring"]
    rate = 81500 * 16 / (8 * 16**3 * 10.25)
    assert spring["rate"] == pytest.approx(rate)
    assert spring["loads"][0]["travel"] == pytest.approx(32 / rate)
    before = np.ptp(heights(result))
    _, result = built(**fields, shown_under="a")
    assert np.ptp(heights(result)) - before == pytest.approx(32 / rate, rel=1e-2)  # the loops lean a little more
    assert spring["free"] == pytest.approx(before - 4, abs=0.02)


def test_a_torsion_spring_has_straight_legs_and_its_moment():
    report, result = built(
        duty="torsion", turns=5.25, leg_start=25, leg_end=30, loads=[{"id": "a", "by": "angle", "angle": 60}]
    )
    assert [p["kind"] for p in report.data["pieces"]] == ["line", "wound", "line"]
    assert [p["to"] - p["from"] for p in report.data["pieces"]][::2] == pytest.approx([25, 30])
    assert report.data["spring"]["loads"][0]["force"] == pytest.approx(60 * 206000 * 16 / (3667 * 16 * 5.25))
    assert result.bodies[0].body.valid()


def test_what_is_not_usual_is_said_and_built():
    report, _ = built(diameter=60)
    assert "spring-index" in {m.code for m in report.messages}
    report, _ = built(free=60, loads=[{"id": "a", "by": "force", "force": 230}])
    assert "over-stressed" in {m.code for m in report.messages}
    report, _ = built(loads=[{"id": "a", "by": "force", "force": 400}])
    assert {"solid-before", "over-stressed"} <= {m.code for m in report.messages}
    report, _ = built(bore=18, rod=15)
    assert [m.place["field"] for m in report.messages if m.code == "no-room"] == ["bore", "rod"]
    report, _ = built(loads=[{"id": "a", "by": "length", "length": 17}])
    assert "near-solid" in {m.code for m in report.messages}
    report, _ = built(free=150, turns=16, loads=[{"id": "a", "by": "length", "length": 60}])
    assert {"buckles", "solid-stress"} <= {m.code for m in report.messages}


@pytest.mark.parametrize(
    ("code", "field", "fields"),
    [
        ("solid-before", "loads", {"loads": [{"id": "a", "by": "length", "length": 10}]}),
        ("longer-than-free", "loads", {"loads": [{"id": "a", "by": "length", "length": 50}]}),
        ("shorter-than-free", "loads", {"duty": "extension", "loads": [{"id": "a", "by": "length", "length": 10}]}),
        ("bad-load", "loads", {"duty": "torsion", "loads": [{"id": "a", "by": "length", "length": 10}]}),
        ("bad-load", "loads", {"loads": [{"id": "a", "by": "force", "force": -3}]}),
        ("free-too-short", "free", {"free": 15}),
        ("wire-too-thick", "diameter", {"diameter": 2}),
        ("no-load", "shown_under", {"shown_under": "b"}),
        ("bad-size", "turns", {"turns": 0}),
        ("bad-size", "turns", {"duty": "torsion", "turns": 1e-9}),
        ("bad-size", "material", {"material": {"shear": 0, "elastic": 1, "strength": 1}}),
        ("bad-size", "initial", {"duty": "extension", "initial": -1}),
        ("too-many-turns", "turns", {"turns": 3000}),
    ],
)
def test_what_cannot_be_coiled_is_refused_with_its_field(code, field, fields):
    assert refused(code, **fields).place["field"] == field


def test_the_sheet_says_it_all_as_json_and_as_csv():
    asked = document(
        spring(
            moving=True, loads=[{"id": "a", "by": "length", "length": 36}, {"id": "b", "by": "length", "length": 30}]
        )
    )
    sheet = as_json(make_sheet(asked, "s", "spring", Memory()))
    assert [row["force"] for row in sheet["rows"]] == pytest.approx([6 * 6.6325, 12 * 6.6325], rel=1e-4)
    assert sheet["source"] == "EN 13906-1"
    assert 0 < sheet["goodman"] < 100
    lines = as_csv(make_sheet(asked, "s", "spring", Memory()), "in").splitlines()
    assert lines[0].startswith("Load,Length (in)")
    assert f"Wire (in),{round(2 / 25.4, 9)}" in lines
    with pytest.raises(Problem, match="is no spring"):
        make_sheet(part(bar()), "sweep", "spring", Memory())


def test_a_wire_along_any_path_has_the_rate_of_its_own_shape():
    """Pressed along its axis a helix has the rate of its closed form; from end to end, which is on one side of it, it
    gives more.
    """
    helix = {"kind": "helix", "id": "h", "name": "Line", "plane": FLAT, "radius": 8, "pitch": 4, "turns": 20}
    result = build(
        document(helix, spring(along={"step": "h"}, pressed="axis", loads=[{"id": "a", "by": "force", "force": 20}]))
    )
    report = result.reports["s"]
    assert report.state == "fresh", report.messages
    shown = report.data["spring"]
    alpha, polar = math.atan(4 / (math.pi * 16)), math.pi * 16 / 32
    give = (
        math.pi
        * 16**3
        * 20
        / (4 * math.cos(alpha))
        * (math.cos(alpha) ** 2 / (81500 * polar) + math.sin(alpha) ** 2 / (206000 * polar / 2))
    )
    assert shown["rate"] == pytest.approx(1 / give, rel=1e-9)
    assert shown["free"] == pytest.approx(80)
    assert shown["loads"][0]["travel"] == pytest.approx(20 * give)
    assert shown["loads"][0]["corrected"] == pytest.approx(
        springs.correction(8) * 8 * 20 * 16 / (math.pi * 8), rel=0.01
    )
    assert result.bodies[0].body.volume() == pytest.approx(math.pi * shown["wire_length"], rel=1e-5)
    askew = build(document(helix, spring(along={"step": "h"}))).reports["s"].data["spring"]
    assert 0.4 < askew["rate"] / shown["rate"] < 0.7
    ring = {**helix, "turns": None, "pitch": 1, "height": 3}
    assert build(document(ring, spring(along={"step": "h"}))).reports["s"].state == "fresh"


def test_a_closed_wire_has_no_ends_to_press():
    path = Path([ArcPiece(np.zeros(3), X, Y, 10, 2 * math.pi)])
    with pytest.raises(Problem) as refusal:
        compliance(path, 2, 81500, 206000)
    assert refusal.value.message.code == "one-end"


# -- design to a wish -----------------------------------------------------------------------------------


def test_designs_have_the_loads_that_are_wished_and_fit_their_room():
    """Each is checked by what a spring of its sizes says of itself, not by what it was chosen by."""
    wish = spring_design.Wish((40, 36), (100, 28), 0.8, bore=22, rod=9)
    found = spring_design.designs(wish, STEEL, "ground", 1.0)
    assert len(found) > 5
    assert [d.mass for d in found] == sorted(d.mass for d in found)
    for design in (found[0], found[-1]):
        c = design.coils
        loads = [{"id": f"l{i}", "by": "length", "length": v} for i, v in enumerate((36, 28))]
        report, _ = built(wire=c.wire, diameter=c.mean, turns=c.active, free=design.free, loads=loads, bore=22, rod=9)
        shown = report.data["spring"]
        assert [x["force"] for x in shown["loads"]] == pytest.approx(
            [40, 100], rel=2e-3
        )  # beside the closed turns it stiffens a little
        assert shown["loads"][1]["share"] == pytest.approx(design.share, rel=2e-3)
        assert shown["mass"] == pytest.approx(design.mass, rel=0.02)
        assert not {"no-room", "over-stressed", "solid-before", "buckles"} & {m.code for m in report.messages}


@pytest.mark.parametrize(
    ("code", "wish"),
    [
        ("bad-wish", spring_design.Wish((40, 28), (100, 36), 0.8)),
        ("bad-wish", spring_design.Wish((0, 36), (100, 28), 0.8)),
        ("no-design", spring_design.Wish((40, 36), (100, 28), 0.01)),
        ("no-design", spring_design.Wish((40, 36), (100, 28), 0.8, bore=4)),
    ],
)
def test_a_wish_that_nothing_meets_says_so(code, wish):
    with pytest.raises(Problem) as refusal:
        spring_design.designs(wish, STEEL, "ground", 1.0)
    assert refusal.value.message.code == code


def test_springs_that_are_turned_have_the_moment_that_is_wished():
    """By what a spring of its sizes says of itself; E d⁴/(3667 D n) of each is 400 N mm for 60°, and none clamps on its
    rod.
    """
    wish = {"moment": 400, "angle": "60 deg"}
    found = answer(document(spring(duty="torsion", turned_wish=wish, rod=8, leg_start=12)), "s", "designs", Memory())
    assert len(found) > 5
    assert [d["mass"] for d in found] == sorted(d["mass"] for d in found)
    for d in (found[0], found[-1]):
        assert 206000 * d["wire"] ** 4 / (3667 * d["diameter"] * d["turns"]) == pytest.approx(400 / 60)
        loads = [{"id": "l", "by": "angle", "angle": "60 deg"}]
        report, _ = built(
            duty="torsion", wire=d["wire"], diameter=d["diameter"], turns=d["turns"], leg_start=12, rod=8, loads=loads
        )
        told = report.data["spring"]
        assert told["loads"][0]["force"] == pytest.approx(400)
        assert told["loads"][0]["share"] == pytest.approx(d["share"])
        assert told["mass"] == pytest.approx(d["mass"], rel=0.01)  # its wire goes along its axis, too
        assert not {"over-stressed", "no-room"} & {m.code for m in report.messages}


@pytest.mark.parametrize(("code", "wish"), [("bad-wish", (0, 60)), ("bad-wish", (400, -1)), ("no-design", (1e9, 60))])
def test_a_wish_to_be_turned_that_nothing_meets_says_so(code, wish):
    with pytest.raises(Problem) as refusal:
        spring_design.torsions(spring_design.TurnedWish(wish[0], math.radians(wish[1]), 0.8), STEEL, (0, 0))
    assert refusal.value.message.code == code


@given(
    st.floats(0.3, 5),
    st.floats(4, 18),
    st.floats(2, 9),
    st.sampled_from(["right", "left"]),
    st.floats(-3, 3),
    st.tuples(*[st.sampled_from(["full", "half", "side", "none"])] * 2),
)
def test_close_turns_are_the_same_by_a_helix_and_by_a_spiral(wire, index, turns, hand, angle, loops):
    coil, seat = close_coil(wire, index * wire, turns), Seat(Plane(np.zeros(3), X, Y), angle, hand)
    quick, slow = (make(coil, seat, loops) for make in (close_extension_path, extension_path))
    assert quick.length == pytest.approx(slow.length, rel=1e-9)
    stations = np.linspace(0, 1, 40)
    assert quick.point(stations * quick.length) == pytest.approx(
        slow.point(stations * slow.length), abs=1e-6 * index * wire
    )


@pytest.mark.parametrize("loops", [("full", "full"), ("half", "side"), ("none", "none")])
def test_springs_that_are_pulled_have_the_loads_that_are_wished(loops):
    """By what a spring of its sizes says of itself: its length between the loops, and its tension, are those that its
    step measures.
    """
    wish = spring_design.Wish((20, 60), (60, 80), 0.8)
    found = spring_design.extensions(wish, STEEL, loops)
    assert len(found) > 5
    for design in (found[0], found[-1]):
        c = design.coils
        loads = [{"id": f"l{i}", "by": "length", "length": v} for i, v in enumerate((60, 80))]
        report, _ = built(
            duty="extension",
            wire=c.wire,
            diameter=c.mean,
            turns=c.active,
            initial=design.initial,
            loop_start=loops[0],
            loop_end=loops[1],
            loads=loads,
        )
        shown = report.data["spring"]
        assert [x["force"] for x in shown["loads"]] == pytest.approx([20, 60], rel=1e-6)
        assert shown["free"] == pytest.approx(design.free, rel=1e-9)
        assert shown["loads"][1]["share"] == pytest.approx(design.share, rel=1e-6)
        assert "over-stressed" not in {m.code for m in report.messages}


@pytest.mark.parametrize(
    ("code", "wish"),
    [
        ("bad-wish", spring_design.Wish((20, 80), (60, 60), 0.8)),
        ("bad-wish", spring_design.Wish((0, 60), (60, 80), 0.8)),
        ("no-design", spring_design.Wish((20, 60), (60, 80), 0.01)),
        ("no-design", spring_design.Wish((59, 60), (60, 80), 0.8)),
    ],
)
def test_a_wish_to_be_pulled_that_nothing_meets_says_so(code, wish):
    with pytest.raises(Problem) as refusal:
        spring_design.extensions(wish, STEEL, ("full", "full"))
    assert refusal.value.message.code == code


def test_a_step_that_is_pulled_is_asked_for_designs_and_one_without_a_wish_says_so():
    wished = {"force_1": 20, "length_1": 60, "force_2": 60, "length_2": "80 mm"}
    assert answer(document(spring(duty="extension", wish=wished)), "s", "designs", Memory())[0]["initial"] >= 0
    with pytest.raises(Problem, match="no wish"):
        answer(document(spring(duty="torsion")), "s", "designs", Memory())


def test_a_step_is_asked_for_designs():
    wished = {"force_1": 40, "length_1": "36 mm", "force_2": 100, "length_2": 28}
    found = answer(document(spring(wish=wished)), "s", "designs", Memory())
    assert {"wire", "diameter", "turns", "free", "share", "mass", "index", "initial"} == set(found[0])
    with pytest.raises(Problem, match="no wish"):
        answer(document(spring()), "s", "designs", Memory())


# -- by the standards' own formulas ------------------------------------------------------------------


@settings(max_examples=60, deadline=None)
@given(
    wire=st.floats(0.5, 6),
    index=st.floats(4, 16),
    active=st.floats(1.2, 20),
    more=st.floats(0.3, 6),
    ends=st.sampled_from(["open", "closed", "ground"]),
    end_turns=st.floats(0.5, 2),
    share=st.floats(0.02, 1),
)
def test_an_even_spring_is_told_as_en_13906_1_has_it(wire, index, active, more, ends, end_turns, share):
    mean, total = wire * index, active + (0 if ends == "open" else 2 * end_turns)
    solid = total * wire if ends == "ground" else (total + 1.5) * wire
    free = solid + active * wire * more
    rate = 81500 * wire**4 / (8 * mean**3 * active)
    length = free - share * (free - solid)
    report, _ = built(
        quick=True,
        wire=wire,
        diameter=mean,
        turns=active,
        free=free,
        ends=ends,
        end_turns=end_turns,
        loads=[{"id": "a", "by": "length", "length": length}],
    )
    told = report.data["spring"]
    assert told["rate"] == pytest.approx(rate, rel=1e-9)
    assert told["solid"] == pytest.approx(solid, rel=1e-9)
    assert told["solid_force"] == pytest.approx(rate * (free - solid), rel=1e-8)
    (load,) = told["loads"]
    assert load["force"] == pytest.approx(rate * (free - length), rel=1e-8)
    tensile = 1980 - 740 * math.log10(wire)
    assert load["share"] == pytest.approx(
        8 * load["force"] * mean / (math.pi * wire**3) / (0.56 * tensile), rel=1e-9
    )  # at rest: not corrected
    if ends != "open":
        numbers = sheet_of(wire=wire, diameter=mean, turns=active, free=free, ends=ends, end_turns=end_turns)
        m = (free - (wire if ends == "ground" else 2.5 * wire)) / active
        assert numbers.outer_when_solid == pytest.approx(
            mean + 0.1 * (m * m - 0.8 * m * wire - 0.2 * wire**2) / mean + wire, rel=1e-9
        )


@settings(max_examples=25, deadline=None)
@given(
    wire=st.floats(1, 3),
    active=st.floats(3, 8),
    ends=st.sampled_from(["closed", "ground"]),
    share=st.floats(0.1, 1),
    end_turns=st.sampled_from([0.5, 0.75, 1.0, 1.6]),
)
def test_a_spring_under_a_load_is_drawn_as_long_as_it_is_told(wire, active, ends, share, end_turns):
    """Whatever the ramp does between its dead turns and its active ones, which it is not to bend sharply."""
    total = active + 2 * end_turns
    solid = total * wire if ends == "ground" else (total + 1.5) * wire
    free = solid + active * wire
    length = free - share * (free - solid)
    _, result = built(
        wire=wire,
        diameter=8 * wire,
        turns=active,
        free=free,
        ends=ends,
        end_turns=end_turns,
        loads=[{"id": "a", "by": "length", "length": length}],
        shown_under="a",
    )
    low, high = heights(result)
    assert high - low == pytest.approx(length, abs=0.01 * wire)


@pytest.mark.parametrize(("loop_start", "loop_end"), [("none", "none"), ("none", "full"), ("half", "none")])
def test_an_extension_spring_is_as_long_as_its_turns_where_it_has_no_loop(loop_start, loop_end):
    report, result = built(duty="extension", wire=2, diameter=16, turns=8, loop_start=loop_start, loop_end=loop_end)
    z = result.bodies[0].shown().points[:, 2]
    inside = [2.0 if loop != "none" else 0.0 for loop in (loop_start, loop_end)]
    assert report.data["spring"]["free"] == pytest.approx(float(np.ptp(z)) - sum(inside), abs=0.02)


@pytest.mark.parametrize(
    ("d", "strength"),
    [
        (0.2, 2200),
        (0.21, 2150),
        (0.3, 2150),
        (0.5, 2050),
        (2.0, 1700),
        (2.01, 1650),
        (3.5, 1550),
        (8.5, 1300),
        (10, 1250),
        (12, 1250),
    ],
)
def test_stainless_wire_has_the_strengths_of_its_table(d, strength):
    assert WIRES["1.4310"].strength(d) == strength


@pytest.mark.parametrize(
    ("material", "wire", "said"),
    [
        ("SL", 0.9, True),
        ("SL", 1, False),
        ("SM", 20, False),
        ("SM", 500, True),
        ("SH", 0.29, True),
        ("1.4310", 10.5, True),
        ("1.4310", 0.1, False),
    ],
)
def test_wire_that_its_standard_does_not_have_is_told(material, wire, said):
    report, _ = built(quick=True, material=material, wire=wire, diameter=8 * wire, free=20 * wire)
    assert ("wire-size" in [m.code for m in report.messages]) == said
    assert report.data["spring"]["permitted"] > 0


def test_loads_that_change_often_are_judged_by_the_corrected_stress():
    for duty, load in (
        ("compression", {"by": "force", "force": 60}),
        ("extension", {"by": "force", "force": 60}),
        ("torsion", {"by": "force", "force": 500}),
    ):
        rest, moved = (
            built(quick=True, duty=duty, loads=[{"id": "a", **load}], moving=moving)[0].data["spring"]["loads"][0]
            for moving in (False, True)
        )
        k = springs.bending_correction(8) if duty == "torsion" else springs.correction(8)
        assert moved["share"] == pytest.approx(k * rest["share"], rel=1e-9)
