"""Threads: profiles, limits of size and shop numbers, against the standards' tables and cases worked by hand."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from leadline.core.paths.joining import reversed_path
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece
from leadline.core.problems import Problem
from leadline.core.trades import thread_numbers as numbers
from leadline.core.trades.thread_forms import sizes, tooth
from leadline.core.trades.thread_groove import drawn_groove, groove_of, typed_groove
from leadline.core.trades.thread_limits import RANGES, by_formula, deviation, limits, pitch_diameter_tolerance, stepped

SERIES = [
    (3, 0.5),
    (4, 0.7),
    (5, 0.8),
    (6, 1.0),
    (8, 1.25),
    (10, 1.5),
    (12, 1.75),
    (16, 2.0),
    (20, 2.5),
    (24, 3.0),
    (30, 3.5),
    (36, 4.0),
    (42, 4.5),
    (48, 5.0),
    (64, 6.0),
]
FORMS = ["metric", "unified", "trapezoidal", "pipe", "buttress", "square", "knuckle", "taper"]


def test_basic_diameters_of_the_standards():
    m10 = sizes("metric", 10, 1.5)
    assert (m10.pitch_diameter, m10.minor_nut, m10.minor_bolt) == pytest.approx((9.026, 8.376, 8.160), abs=5e-4)
    tr = sizes("trapezoidal", 20, 4)
    assert (tr.pitch_diameter, tr.minor_nut, tr.minor_bolt, tr.major_nut) == pytest.approx((18, 16, 15.5, 20.5))
    g1 = sizes("pipe", 33.249, 2.309)
    assert (g1.pitch_diameter, g1.minor_nut) == pytest.approx((31.770, 30.291), abs=1e-3)
    rd = sizes("knuckle", 40, 4.233)
    assert (rd.pitch_diameter, rd.minor_bolt, rd.minor_nut, rd.major_nut) == pytest.approx(
        (37.884, 35.767, 36.190, 40.423), abs=1e-3
    )
    s = sizes("buttress", 40, 7)
    assert (s.pitch_diameter, s.minor_nut, s.minor_bolt) == pytest.approx((34.75, 29.5, 27.851), abs=1e-3)


@pytest.mark.parametrize(
    ("major", "pitch", "kind", "pitch_diameter", "crest"),
    [
        (10, 1.5, "6g", (8.994, 8.862), (9.968, 9.732)),
        (10, 1.5, "6H", (9.206, 9.026), (8.676, 8.376)),
        (6, 1.0, "6g", (5.324, 5.212), (5.974, 5.794)),
        (6, 1.0, "6H", (5.500, 5.350), (5.153, 4.917)),
        (8, 1.25, "6g", (7.160, 7.042), (7.972, 7.760)),
        (12, 1.75, "6H", (11.063, 10.863), (10.441, 10.106)),
        (10, 1.5, "4h", (9.026, 8.941), (10.000, 9.850)),
        (20, 2.5, "6e", (18.296, 18.126), (19.920, 19.585)),
        (10, 1.5, "5g6g", (8.994, 8.888), (9.968, 9.732)),
        (24, 3.0, "6g", (22.003, 21.803), (23.952, 23.577)),
    ],
)
def test_limits_of_size(major, pitch, kind, pitch_diameter, crest):
    found = limits(major, pitch, kind)
    assert (found.pitch_diameter.most, found.pitch_diameter.least) == pytest.approx(pitch_diameter, abs=1.1e-3)
    assert (found.crest.most, found.crest.least) == pytest.approx(crest, abs=1.1e-3)
    assert found.pitch_diameter.least < found.pitch_diameter.mean < found.pitch_diameter.most


@pytest.mark.parametrize(("major", "pitch"), SERIES)
def test_tolerances_of_the_table_are_those_of_the_formula_within_a_step(major, pitch):
    k = next(i for i in range(1, len(RANGES)) if major <= RANGES[i])
    formula = by_formula(math.sqrt(RANGES[k - 1] * RANGES[k]), pitch)
    assert pitch_diameter_tolerance(major, pitch) in {stepped(formula, i) for i in (-1, 0, 1)}
    assert deviation(pitch, "g") == pytest.approx(15 + 11 * pitch, abs=2.1)


@pytest.mark.parametrize(("major", "pitch"), SERIES)
def test_a_bolt_of_a_usual_class_goes_into_its_nut(major, pitch):
    bolt, nut = limits(major, pitch, "6g"), limits(major, pitch, "6H")
    assert bolt.pitch_diameter.most < nut.pitch_diameter.least
    assert sizes("metric", major, pitch).minor_bolt < nut.crest.least


@pytest.mark.parametrize(
    ("major", "pitch", "kind"),
    [(10, 1.5, "6x"), (10, 1.5, "9H"), (10, 1.4, "6g"), (500, 6.0, "6g"), (10, 1.5, "5g6H"), (1, 0.25, "6e")],
)
def test_a_class_that_there_is_not_is_refused(major, pitch, kind):
    with pytest.raises(Problem) as refusal:
        limits(major, pitch, kind)
    assert refusal.value.message.code in {"bad-class", "no-tolerances"}


@pytest.mark.parametrize("side", ["outside", "inside"])
@pytest.mark.parametrize("form", FORMS)
@given(major=st.floats(8, 100), share=st.floats(0.02, 0.2))
def test_tooth_and_groove_are_equally_wide_at_the_pitch_diameter(form, side, major, share):
    pitch = major * share
    assume(form != "trapezoidal" or pitch > 1.5)  # the least of ISO 2904
    made, size = tooth(form, side, major, pitch), sizes(form, major, pitch)
    (a, low), (b, high), (c, _), (d, _) = made.corners
    middle = size.pitch_diameter / 2
    at = (middle - low) / (high - low)
    assert (c + (d - c) * (1 - at)) - (a + (b - a) * at) == pytest.approx(pitch / 2)
    assert 0 <= a < b < c < d <= pitch


def test_flanks_lean_as_the_forms_say():
    def lean(form: str) -> list[float]:
        (a, low), (b, high), (c, _), (d, _) = tooth(form, "outside", 40, 6).corners
        return [math.degrees(math.atan2(run, high - low)) for run in (b - a, d - c)]

    assert lean("metric") == pytest.approx([30, 30])
    assert lean("trapezoidal") == pytest.approx([15, 15])
    assert lean("pipe") == pytest.approx([27.5, 27.5])
    assert lean("buttress") == pytest.approx([3, 30])
    assert max(lean("square")) < 0.2


@pytest.mark.parametrize(
    ("form", "side", "root", "crest"),
    [
        ("metric", "outside", 0.14434, None),
        ("unified", "outside", 0.14434, None),
        ("metric", "inside", None, None),
        ("pipe", "outside", 0.137329, 0.137329),
        ("pipe", "inside", 0.137329, 0.137329),
        ("buttress", "outside", 0.12427, None),
        ("knuckle", "outside", 0.23851, 0.23851),
        ("knuckle", "inside", 0.22105, 0.25597),
        ("trapezoidal", "outside", None, None),
    ],
)
def test_arcs_have_the_radii_of_the_standards(form, side, root, crest):
    """ISO 68-1, ISO 228-1, DIN 513-1, DIN 405-1; a crest keeps a hundredth of the pitch of its face, so that its arcs
    are a little less than whole.
    """
    groove = groove_of(tooth(form, side, 40, 4, rounded=True), side)
    middle = groove.deepest[1] / 2
    arcs = [s for s in groove.segments if not s.straight]
    deep, shallow = ([s.radius / 4 for s in arcs if (max(s.begin[1], s.end[1]) > middle) == at] for at in (True, False))
    assert deep == pytest.approx([] if root is None else [root] * 2, abs=1e-5)
    assert shallow == pytest.approx([] if crest is None else [crest] * 2, abs=0.009)
    assert all(found <= crest for found in shallow)
    for a, b in pairwise(groove.segments):  # each goes on as the one before it ended
        if not (a.straight and b.straight):
            ways = [
                math.atan2(float(np.diff(s.at(np.array(w))[1])[0]), float(np.diff(s.at(np.array(w))[0])[0]))
                for s, w in ((a, [1 - 1e-7, 1]), (b, [0, 1e-7]))
            ]
            assert ways[0] == pytest.approx(ways[1], abs=1e-5)


def test_a_groove_of_ones_own_is_taken_or_refused():
    assert typed_groove([(1, 0), (2, 1.5), (3, 0)], 3).corners == ((0, 0), (1, 1.5), (2, 0))
    wrong = [
        ([(0, 0), (1, 1), (4, 0)], 3, "thread-folds"),
        ([(0, 0), (2, 1), (1, 0)], 3, "bad-tooth"),
        ([(0, 0.2), (1, 1), (2, 0)], 3, "bad-tooth"),
    ]
    for corners, pitch, code in wrong:
        with pytest.raises(Problem) as refusal:
            typed_groove(corners, pitch)
        assert refusal.value.message.code == code


def test_a_drawn_groove_has_its_lines_and_arcs_whichever_way_it_is_drawn():
    """A flank, a round bottom and a steeper flank, in a slanted plane."""
    x, y = np.array([0.6, 0.8, 0.0]), np.array([0.0, 0.0, 1.0])
    turn = math.radians(50) + math.radians(60)
    radius, first, last = 0.8, math.radians(50), math.radians(60)
    low, bottom = (
        np.array([1.0, math.tan(first)]),
        np.array([math.sin(first) + math.sin(last), math.cos(last) - math.cos(first)]) * radius,
    )
    centre = low + radius * np.array([math.sin(first), -math.cos(first)])
    high = low + bottom
    end = np.array([high[0] + high[1] / math.tan(last), 0.0])

    def place(p):
        return 5 * x + p[0] * x - p[1] * y

    u, v = (place(low) - place(centre)) / radius, math.cos(first) * x - math.sin(first) * y
    path = Path(
        [
            LinePiece(place((0, 0)), place(low)),
            ArcPiece(place(centre), u, v, radius, turn),
            LinePiece(place(high), place(end)),
        ]
    )
    groove = drawn_groove(path, 5)
    assert np.array(groove.corners) == pytest.approx(np.array([(0, 0), low, high, end]), abs=1e-12)
    assert groove.turns == pytest.approx((0, -turn, 0), abs=1e-12)
    assert groove.deepest[1] == pytest.approx(centre[1] + radius, abs=1e-3)
    assert np.array(drawn_groove(reversed_path(path), 5).corners) == pytest.approx(
        np.array([(end[0] - a, b) for a, b in groove.corners[::-1]])
    )


@pytest.mark.parametrize(
    ("points", "pitch", "code", "words"),
    [
        ([(0, 0), (1, 1), (2, 0)], 1.5, "thread-folds", "wide"),
        ([(0, 0), (1, 0), (2, 0)], 3, "bad-tooth", "no depth"),
        ([(0, 0), (0, 1), (2, 0)], 3, "bad-tooth", "upright"),
        ([(0, 0), (1, 1), (0.5, 0.5), (2, 0)], 3, "bad-tooth", "back along"),
        ([(0, 0), (0.5, 1), (1, -0.5), (2, 0)], 3, "bad-tooth", "comes up"),
    ],
)
def test_a_drawn_groove_is_refused_with_a_reason(points, pitch, code, words):
    path = Path([LinePiece(np.array([*a, 0.0]), np.array([*b, 0.0])) for a, b in pairwise(points)])
    with pytest.raises(Problem, match=words) as refusal:
        drawn_groove(path, pitch)
    assert refusal.value.message.code == code


def test_shop_numbers():
    m10 = sizes("metric", 10, 1.5)
    assert numbers.stress_area(m10) == pytest.approx(57.99, abs=0.01)
    assert numbers.tap_drill(m10, 1.5) == 8.5
    assert math.degrees(numbers.lead_angle(m10.pitch_diameter, 1.5)) == pytest.approx(3.03, abs=0.01)
    half = math.radians(30)
    wire = numbers.best_wire(1.5, half)
    assert wire == pytest.approx(0.57735 * 1.5, rel=1e-5)
    assert numbers.over_wires(9.026, 1.5, wire, half) == pytest.approx(9.026 + 3 * wire - 0.866025 * 1.5, abs=1e-5)
    assert numbers.locks_itself(9.026, 1.5, half, 0.1)
    assert not numbers.locks_itself(9.026, 12, half, 0.1)
    strips = (
        0.6 * math.pi / 1.5 * 8.3762 * (0.75 + (9.0257 - 8.3762) / math.sqrt(3))
    )  # of the bolt's strength, for each mm: the bolt's thread is the weaker one
    assert numbers.engagement(m10, 1.5, half, numbers.stress_area(m10), 800, 800) == pytest.approx(
        57.99 / strips, rel=1e-4
    )
    with pytest.raises(Problem):
        numbers.engagement(m10, 1.5, half, numbers.stress_area(m10), 0, 800)


@given(major=st.floats(8, 60), share=st.floats(0.03, 0.18), form=st.sampled_from(FORMS))
def test_a_turn_of_the_tooth_holds_what_slices_say(major, share, form):
    assume(form != "trapezoidal" or major * share > 1.5)
    made = tooth(form, "outside", major, major * share)
    z, r = zip(*made.corners, strict=True)
    total, n = 0.0, 4000
    for i in range(n):
        at = (i + 0.5) / n * made.pitch
        k = next((j for j in range(3) if z[j] <= at <= z[j + 1]), None)
        radius = made.root if k is None else r[k] + (r[k + 1] - r[k]) * (at - z[k]) / (z[k + 1] - z[k])
        total += math.pi * (radius**2 - made.root**2) * made.pitch / n
    assert numbers.ridge_volume(made) == pytest.approx(total, rel=2e-3)


@pytest.mark.parametrize(
    ("major", "pitch", "code"), [(0, 1, "bad-size"), (10, -1, "bad-size"), (10, 8, "pitch-too-large")]
)
def test_what_is_no_thread_is_refused(major, pitch, code):
    with pytest.raises(Problem) as refusal:
        sizes("metric", major, pitch)
    assert refusal.value.message.code == code
