"""Tubes that are bent: the program against a case worked by hand and against its own reverse, material, checks,
cutting, and tables read back.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.paths.bends import BendRow, Bends, bends_of, corners_of, path_of
from leadline.core.paths.route import through_points
from leadline.core.problems import Problem
from leadline.core.trades import tube_bending as tb
from leadline.recipe.bends_csv import is_bends, read_bends
from leadline.recipe.build import Memory, build
from leadline.recipe.sheets import as_csv, as_json, make_sheet
from tests.support.tubes import CASE, DEGREE, bends, document

ROWS = st.lists(
    st.tuples(st.floats(1, 200), st.floats(-179, 179), st.floats(3, 170), st.floats(10, 80)), min_size=1, max_size=8
)


def test_the_check_case():
    found = bends_of(through_points(CASE, [0, 40, 40, 0]).path)
    assert [r.feed for r in found.rows] == pytest.approx([160, 70])
    assert found.last == pytest.approx(80)
    assert [abs(r.turn) / DEGREE for r in found.rows] == pytest.approx([0, 90])
    assert [r.angle / DEGREE for r in found.rows] == pytest.approx([90, 90])
    assert tb.cut_length(found, 0, (0, 0)) == pytest.approx(435.664, abs=5e-4)
    assert tb.cut_length(found, 0.02, (3, 4)) == pytest.approx(310 + 0.98 * 40 * math.pi + 7)


@given(rows=ROWS, last=st.floats(1, 200))
def test_told_from_the_other_end_it_is_the_same_tube(rows, last):
    told = bends(rows, last)
    told = Bends(
        (
            BendRow(told.rows[0].feed, 0.0, *[getattr(told.rows[0], n) for n in ("angle", "radius", "start", "end")]),
            *told.rows[1:],
        ),
        last,
    )
    back = tb.reversed_bends(told)
    ours = path_of(told, np.zeros(3), np.array([1.0, 0, 0]))
    ends = np.array([ours.length])
    theirs = path_of(back, ours.point(ends)[0], -ours.tangent(ends)[0], _axis(ours))
    s = np.linspace(0, ours.length, 200)
    assert theirs.point(s) == pytest.approx(ours.point(ours.length - s), abs=1e-7)
    again = tb.reversed_bends(back)
    assert _numbers(again) == pytest.approx(_numbers(told), abs=1e-9)


def _numbers(told: Bends) -> np.ndarray:
    return np.array([(r.feed, r.turn, r.angle, r.radius, r.start, r.end) for r in told.rows])


def _axis(path) -> np.ndarray:
    """The axis of the last bend as it is met from the path's end."""
    return -next(p.axis for p in reversed(path.pieces) if p.kind == "arc")


@given(rows=ROWS, last=st.floats(1, 200))
def test_rows_make_corners_that_make_the_rows_again(rows, last):
    told = bends([(f, 0.0 if i == 0 else t, a, r) for i, (f, t, a, r) in enumerate(rows)], last)
    corners, radii = corners_of(told, np.zeros(3), np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
    again = bends_of(through_points(corners, [0, *radii, 0]).path)
    for a, b in zip(again.rows, told.rows, strict=True):
        assert (a.feed, a.angle, a.radius) == pytest.approx((b.feed, b.angle, b.radius), abs=1e-7)
        assert math.remainder(a.turn - b.turn, 2 * math.pi) == pytest.approx(0, abs=1e-6)
    assert again.last == pytest.approx(last, abs=1e-7)


# -- material ----------------------------------------------------------------------------------------


@given(outside=st.floats(4, 60), share=st.floats(0.02, 0.2), tight=st.floats(1.1, 6))
def test_walls_in_a_bend_keep_their_volume(outside, share, tight):
    wall, radius = share * outside, tight * outside
    walls = tb.walls_in(outside, wall, radius)
    assert walls.outer * (radius + outside / 2) == pytest.approx(wall * radius)
    assert walls.inner * (radius - outside / 2) == pytest.approx(wall * radius)
    assert walls.outer < wall < walls.inner
    assert walls.strain == pytest.approx(outside / 2 / radius)


def test_thin_walls_in_tight_bends_need_more_of_the_tool():
    needs = [tb.walls_in(20, wall, radius).tooling for wall, radius in ((2, 60), (1, 40), (1, 20), (0.4, 20))]
    assert needs == ["no mandrel", "no mandrel", "plug mandrel", "mandrel with balls and wiper"]
    with pytest.raises(Problem, match="no wider"):
        tb.walls_in(20, 1, 10)


@given(fixed=st.floats(-2, 6), share=st.floats(0, 0.1), low=st.floats(10, 60), high=st.floats(80, 150))
def test_two_test_bends_give_the_springback_that_made_them(fixed, share, low, high):
    give = tb.Springback(fixed * DEGREE, share)
    tests = [(give.made(a * DEGREE), a * DEGREE) for a in (low, high)]
    found = tb.fitted_springback(*tests, tool=40, found=41)
    assert (found.fixed, found.share) == pytest.approx((give.fixed, share), abs=1e-9)
    assert found.growth == pytest.approx(0.025)
    assert found.left(found.made(1.2)) == pytest.approx(1.2)
    assert found.tool_radius(41) == pytest.approx(40)
    with pytest.raises(Problem):
        tb.fitted_springback(tests[0], tests[0])


def test_ovality_is_the_allowance_at_twice_the_diameter():
    assert tb.ovality(20, 40, 0.05) == pytest.approx(0.05)
    assert tb.ovality(20, 80, 0.05) == pytest.approx(0.025)


def test_the_tool_has_what_the_table_says_and_one_that_does_not_rise_is_refused():
    """20 by 1.5 in a bend of 40: OD/t 13.33 by R/OD 2 is 6.67."""
    assert tb.walls_in(20, 1.5, 40).tooling == "no mandrel"
    own = [{"up_to": 5, "words": "nothing"}, {"up_to": 6.6, "words": "sand"}]
    assert build(document(tooling=own), Memory()).reports["bend"].data["bent"]["tooling"] == "sand"
    assert (
        build(document(tooling=[{"up_to": 6.7, "words": "wax"}, *own[1:]][:1]), Memory())
        .reports["bend"]
        .data["bent"]["tooling"]
        == "wax"
    )
    report = build(document(tooling=own[::-1]), Memory()).reports["bend"]
    assert report.messages[0].code == "tooling-order"


# -- checks and cutting --------------------------------------------------------------------------------


def test_what_the_machine_cannot_do_is_said_with_its_place():
    told = bends([(10, 0, 90, 40), (15, 90, 60, 30), (400, 0, 30, 15)], 20)
    machine = tb.Machine(40, 40, 300, 500)
    found = {m.code: m for m in tb.checked(told, 20, machine, 900)}
    assert set(found) == {
        "no-room-for-clamp",
        "feed-too-long",
        "no-room-for-grip",
        "several-radii",
        "tight-bend",
        "longer-than-stock",
    }
    assert found["feed-too-long"].place["station"] == pytest.approx(told.rows[2].start)
    assert [m.code for m in tb.checked(bends([(100, 0, 180, 40)], 100), 20, machine, 100)] == ["bend-too-far"]
    assert tb.checked(bends([(100, 0, 90, 40)], 100), 20, machine, 100) == []


@given(pieces=st.lists(st.floats(10, 900), min_size=1, max_size=40), kerf=st.floats(0, 5))
def test_every_piece_is_cut_once_and_no_bar_is_overfull(pieces, kerf):
    stock = 1000.0
    cutting = tb.cutting_list(pieces, stock, kerf)
    assert sorted(p for bar in cutting.bars for p in bar) == sorted(pieces)
    assert all(sum(bar) + kerf * (len(bar) - 1) <= stock + 1e-6 for bar in cutting.bars)
    assert len(cutting.bars) <= math.ceil(11 / 9 * sum(p + kerf for p in pieces) / (stock + kerf) * 2) + 1
    assert cutting.waste == pytest.approx(stock * len(cutting.bars) - sum(pieces))


def test_ten_tubes_from_six_metres():
    cutting = tb.cutting_list([910.0] * 10, 6000, 3)
    assert [len(bar) for bar in cutting.bars] == [6, 4]
    with pytest.raises(Problem) as refusal:
        tb.cutting_list([7000], 6000)
    assert refusal.value.message.code == "longer-than-stock"


# -- the step, its sheet, and the table read back --------------------------------------------------------


def test_the_sheet_has_the_program_with_springback():
    asked = document(fixed=1, share=0.02, growth=0.01, stock=1000, count=3, trim_end=10)
    sheet = as_json(make_sheet(asked, "bend", "tube", Memory()))
    assert [r["made"] for r in sheet["rows"]] == pytest.approx([90 + 1 + 1.8] * 2)
    assert [r["tool"] for r in sheet["rows"]] == pytest.approx([40 / 1.01] * 2)
    assert (sheet["outside"], sheet["wall"]) == (20, 1.5)
    assert sheet["cut"] == pytest.approx(445.664, abs=5e-4)
    assert sheet["bars"] == 2
    assert sheet["rows"][0]["outer"] == pytest.approx(1.5 / 1.25)
    back = as_json(make_sheet(document(flipped=True), "bend", "tube", Memory()))
    assert [r["feed"] for r in back["rows"]] == pytest.approx([80, 70])
    assert back["rows"][0]["start"] == pytest.approx(sheet["rows"][1]["start"])


def test_a_bar_is_its_own_wall_and_two_tests_stand_for_the_springback():
    asked = document(sweep={"wall": None}, tests=[{"bent": 33, "left": 30}, {"bent": 124, "left": 120}])
    sheet = as_json(make_sheet(asked, "bend", "tube", Memory()))
    assert sheet["wall"] == 10
    assert sheet["rows"][0]["made"] == pytest.approx(90 + 3 + 60 / 90, abs=1e-6)


@pytest.mark.parametrize(
    ("code", "field", "fields"),
    [
        ("not-a-tube", "tube", {"sweep": {"profile": {"quick": "rectangle", "width": 20, "height": 10}}}),
        ("bend-too-tight", "tube", {"sweep": {"profile": {"quick": "round", "width": 90}, "wall": 3}}),
        ("bad-size", "share", {"share": -0.9}),
        ("bad-size", "growth", {"growth": -0.9}),
        ("bad-size", "stretch", {"stretch": 2}),
        ("bad-size", "trim_start", {"trim_start": -1}),
        ("bad-size", "clamp", {"clamp": -1}),
        ("bad-count", "count", {"count": 1.5}),
        ("test-bends", "tests", {"tests": [{"bent": 33, "left": 30}, {"bent": 34, "left": 30}]}),
    ],
)
def test_what_cannot_be_bent_is_refused_with_its_field(code, field, fields):
    report = build(document(**fields), quick=True).reports["bend"]
    assert report.state == "failed"
    (message,) = report.messages
    assert (message.code, message.place.get("field")) == (code, field)


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("name", ["bends", "tube"])
def test_a_sheet_that_was_saved_is_read_back_as_the_same_tube(name, unit):
    text = as_csv(make_sheet(document(), "way" if name == "bends" else "bend", name, Memory()), unit)
    assert is_bends(text)
    points = read_bends(text, "mm")
    corners = np.array([(p.x, p.y, p.z) for p in points])
    assert np.linalg.norm(np.diff(corners, axis=0), axis=1) == pytest.approx([200, 150, 120], abs=1e-6)
    assert [p.radius for p in points] == [None, pytest.approx(40), pytest.approx(40), None]
    gaps = lambda c: np.linalg.norm(c[:, None] - c, axis=2)  # noqa: E731
    assert gaps(corners) == pytest.approx(gaps(CASE), abs=1e-6)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("Bend,Feed,Turn,Angle,Radius\n1,10,0,,40\n", "Row 2 has nothing"),
        ("Bend,Feed,Turn,Angle,Radius\n1,10,0,x,40\n", "Row 2 has “x”"),
        ("Bend,Feed,Turn,Angle,Radius\n1,-10,0,90,40\n", "Bend 1 of the table"),
        ("Bend,Feed,Turn,Angle,Radius\n1,10,0,180,40\n", "Bend 1 of the table"),
        ("Bend,Feed,Turn,Angle,Radius\n", "0 rows of bends"),
    ],
)
def test_a_table_that_cannot_be_bent_says_where(text, said):
    assert is_bends(text)
    with pytest.raises(Problem, match=said):
        read_bends(text, "mm")
    assert not is_bends("x,y,z\n0,0,0\n1,1,1\n")
