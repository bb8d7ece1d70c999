"""The simulated bender and the measuring arm: against the tube that is to come out, distances of solids, and bends that
are known.
"""

import json
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
from OCP.gp import gp_Pnt

from leadline.core.paths.bends import corners_of, path_of
from leadline.core.problems import Problem
from leadline.core.trades import bender_run as sim
from leadline.core.trades import tube_bending as tb
from leadline.core.trades import tube_measuring as tm
from leadline.core.trades.bender import FOLDER, Box, bender, bender_of, benders
from leadline.core.trades.machine_file import read_machine
from leadline.recipe.asking import answer
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from
from tests.support.parts import DEMO, step
from tests.support.tubes import DEGREE, bends, document

X, Z, ORIGIN = np.array([1.0, 0, 0]), np.array([0, 0, 1.0]), np.zeros(3)
DOWN = -90.0  # degrees that turn the bend before downwards
NO_GIVE = tb.Springback()
NOWHERE = Box(*np.full((2, 3), 5000.0))
ROWS = st.lists(
    st.tuples(st.floats(40, 200), st.floats(-179, 179), st.floats(5, 150), st.just(60.0)), min_size=1, max_size=6
)
CLEAR_ROWS = st.lists(  # whose corners noise does not blur
    st.tuples(st.floats(40, 200), st.floats(-179, 179), st.floats(20, 150), st.just(60.0)), min_size=1, max_size=6
)
MACHINE = bender("reedbank-40")


def program(rows, last=150.0, give=NO_GIVE, outside=28.0):
    told = bends(rows, last)
    return sim.Program(told, tb.programmed(told, give), tuple(r.turn for r in told.rows), outside)


def standing(asked, moments, i):
    """The tube in front of the die at a moment, what is not through the die yet left out."""
    front, along = sim.front_of(asked, int(moments.row[i]))
    at = sim.placed(front, *(c[[i]] for c in (moments.shift, moments.turn, moments.bend, moments.radius)))[0]
    return at[along + moments.shift[i] >= -1e-9], along


# -- how it stands ---------------------------------------------------------------------------------------


@settings(max_examples=40, deadline=None)
@given(rows=ROWS, last=st.floats(80, 200))
def test_what_comes_out_is_the_tube_told_from_its_other_end(rows, last):
    asked = program(rows, last, tb.Springback(0.02, 0.02, 0.012))
    moments = sim.moments_of(asked, MACHINE)
    found, along = standing(asked, moments, len(moments.row) - 1)
    row = asked.bends.rows[-1]
    wanted = (
        path_of(tb.reversed_bends(asked.bends), ORIGIN, X, Z).point(along + row.radius * row.angle + last) - last * X
    )
    assert found == pytest.approx(wanted, abs=1e-9)


@settings(max_examples=40, deadline=None)
@given(rows=ROWS)
def test_from_moment_to_moment_tube_and_machine_go_on_without_a_jump(rows):
    asked = program(rows)
    moments = sim.moments_of(asked, MACHINE)
    assert (np.diff(moments.seconds) >= -1e-9).all()
    assert (np.diff(moments.carriage) >= -1e-9).all()
    assert moments.carriage[-1] == pytest.approx(MACHINE.grip - 150)
    for i in np.flatnonzero(
        np.diff(moments.phase) > 0
    ):  # the last of a phase is the first of the next; of the next bend only the pose begins anew
        before, after = (standing(asked, moments, k)[0] for k in (i, i + 1))
        assert after[-1] == pytest.approx(before[-1], abs=1e-6)
    for k in range(1, len(rows)):
        last, first = int(np.flatnonzero(moments.row == k - 1)[-1]), int(np.flatnonzero(moments.row == k)[0])
        assert standing(asked, moments, first)[0][-1] == pytest.approx(standing(asked, moments, last)[0][-1], abs=1e-6)


def test_the_time_is_that_of_its_parts():
    asked = program([(150, 0, 80, 60), (120, 60, 40, 60)])
    s = MACHINE.speeds
    bent = sum(angle * DEGREE * (1 / s.bend + 1 / s.back) + 2 * s.grip for angle in (80, 40))
    assert sim.run(asked, MACHINE).seconds == pytest.approx(270 / s.feed + 60 * DEGREE / s.turn + bent)


# -- what it meets ---------------------------------------------------------------------------------------


@settings(max_examples=60, deadline=None)
@given(at=st.tuples(*[st.floats(-50, 50)] * 3), size=st.tuples(*[st.floats(1, 40)] * 3))
def test_a_box_is_as_far_as_the_kernel_says(at, size):
    away = float(Box(np.zeros(3), np.array(size)).away(np.array([at]))[0])
    vertex = BRepBuilderAPI_MakeVertex(gp_Pnt(*at)).Vertex()
    block = BRepPrimAPI_MakeBox(*size).Solid()
    assert max(away, 0.0) == pytest.approx(BRepExtrema_DistShapeShape(vertex, block).Value(), abs=1e-7)
    if away < 0:
        assert -away == pytest.approx(min(min(a, s - a) for a, s in zip(at, size, strict=True)))


@settings(max_examples=25, deadline=None)
@given(down=st.floats(60, 600), over=st.floats(20, 160), met=st.booleans())
def test_the_floor_is_met_when_the_front_hangs_lower_than_it_is(down, over, met):
    """A bend of 90° and a front of some length, turned downwards: it hangs its length, its radius and half its width
    below the axis.
    """
    assume(over < down + 60)  # a floor above the axis is met while the tube is fed
    asked = program([(down, 0, 90, 60), (200, DOWN, 30, 60)])
    lowest = -(down + 60) - asked.outside / 2
    machine = replace(MACHINE, floor=lowest + (over if met else -over), column=NOWHERE, bed=NOWHERE, arm=NOWHERE)
    hits = {h.part: h for h in sim.run(asked, machine).hits}
    assert ("floor" in hits) == met
    if met:
        assert (hits["floor"].row, hits["floor"].phase) == (1, "turn")
        assert hits["floor"].deep == pytest.approx(over, abs=1e-6)
        assert hits["floor"].station == pytest.approx(0, abs=over)


@settings(max_examples=15, deadline=None)
@given(rows=ROWS, low=st.booleans())
def test_what_is_passed_by_at_the_first_look_would_not_have_been_met(rows, low):
    """Every place of every moment, looked at in full, meets the same things at the same moments."""
    asked, machine = program(rows), bender("reedbank-40-low" if low else "reedbank-40")
    moments = sim.moments_of(asked, machine)
    full = []
    for k in range(len(rows)):
        front, along = sim.front_of(asked, k)
        for phase in range(5):
            which = np.flatnonzero((moments.row == k) & (moments.phase == phase))
            full += sim._hits(asked, machine, moments, which, front, along) if len(which) else []
    found = {(h.part, h.row): (h.moment, h.deep) for h in sim.run(asked, machine).hits if h.moment >= 0}
    wanted = {}
    # where the finished tube runs into itself is of no moment, but counts for how deep it does in that bend
    for hit in [*full, *sim._own(asked)]:
        moment, deep = wanted.get((hit.part, hit.row), (hit.moment, 0.0))
        wanted[hit.part, hit.row] = (moment, max(deep, hit.deep))
    assert found == {k: (m, pytest.approx(d)) for k, (m, d) in wanted.items() if m >= 0}


def test_a_coil_of_one_turn_and_more_runs_into_itself():
    flat = [(60.0, 0.0, 120.0, 60.0)] * 4  # an octagon's turn that closes upon its beginning
    assert {h.part for h in sim.run(program(flat), MACHINE).hits} >= {"tube"}
    assert "tube" not in {h.part for h in sim.run(program(flat[:2]), MACHINE).hits}


def test_a_grip_that_cannot_come_near_enough_and_a_tube_that_is_too_long():
    assert sim.run(program([(100, 0, 90, 60)], 50), MACHINE).short_of_grip == pytest.approx(
        MACHINE.grip + MACHINE.nearest - 50
    )
    assert sim.run(program([(100, 0, 90, 60)], 75.1), MACHINE).short_of_grip == 0
    long = program([(3000, 0, 90, 60)], 300)
    assert sim.too_long(long, MACHINE) == pytest.approx(long.length - MACHINE.grip - MACHINE.travel)
    assert sim.too_long(program([(100, 0, 90, 60)], 50), MACHINE) == 0


@settings(max_examples=15, deadline=None)
@given(rows=ROWS)
def test_the_freest_turns_come_to_the_same_and_are_no_worse(rows):
    asked = program(rows)
    free = sim.freest_turns(asked, bender("reedbank-40-low"))
    for a, b in zip(asked.turns, free.turns, strict=True):
        assert math.remainder(a - b, 2 * math.pi) == pytest.approx(0, abs=1e-9)
    worst = [
        max((h.deep for h in sim.run(p, bender("reedbank-40-low")).hits if h.phase == "turn"), default=0.0)
        for p in (free, asked)
    ]
    assert worst[0] <= worst[1] + 1e-9


def test_machines_are_read_from_their_files():
    assert sorted(benders()) == ["reedbank-40", "reedbank-40-low"]
    assert MACHINE.sweep == pytest.approx(190 * DEGREE)
    with pytest.raises(Problem) as refusal:
        bender("reedbank-90")
    assert refusal.value.message.code == "unknown-machine"


KNOWN = json.loads((FOLDER / "reedbank-40.json").read_text())
JUNK = st.one_of(
    st.none(),
    st.text(max_size=4),
    st.floats(),
    st.integers(-(10**9), 10**9),
    st.lists(st.floats(-500, 500), max_size=3),
    st.booleans(),
    st.lists(st.lists(st.floats(-500, 500), min_size=3, max_size=3), min_size=2, max_size=2),
)


def machine_or_refusal(text):
    try:
        return bender_of(read_machine(text))
    except Problem as problem:
        return problem


@settings(max_examples=150, deadline=None)
@given(st.sampled_from(sorted(KNOWN)), JUNK, st.booleans())
def test_a_file_tells_a_machine_that_plays_or_is_refused_with_its_place(name, junk, whole):
    changed = {k: v for k, v in KNOWN.items() if k != name} | ({name: junk} if whole else {})
    machine = machine_or_refusal(json.dumps(changed))
    if isinstance(machine, Problem):
        assert machine.message.code == "bad-machine"
        assert name in machine.message.text or "carriage" in machine.message.text
    else:
        assert math.isfinite(sim.run(program([(100.0, 0.0, 60 * DEGREE, 80.0)]), machine).seconds)


@pytest.mark.parametrize("broken", ["", "[]", "{", "null", '{"name": "x"}'])
def test_what_is_no_file_of_a_machine_is_refused(broken):
    with pytest.raises(Problem) as refusal:
        read_machine(broken)
    assert refusal.value.message.code == "bad-machine"


# -- measured --------------------------------------------------------------------------------------------


@settings(max_examples=60, deadline=None)
@given(
    rows=st.lists(
        st.tuples(st.floats(30, 200), st.floats(-179, 179), st.floats(5, 150), st.floats(20, 80)),
        min_size=1,
        max_size=10,
    ),
    last=st.floats(30, 200),
    seed=st.integers(0, 999),
)
def test_bends_that_are_probed_without_noise_are_found_again(rows, last, seed):
    told = bends([(feed, turn if i else 0.0, *rest) for i, (feed, turn, *rest) in enumerate(rows)], last)
    radii = [r.radius for r in told.rows]
    probes = tm.probed(told, 0.0, np.random.default_rng(seed))
    for found in (tm.bends_through(probes, radii), tm.bends_from(corners_of(told, ORIGIN, X, Z)[0], radii)):
        assert [r.feed for r in found.rows] == pytest.approx([r.feed for r in told.rows], abs=1e-6)
        assert [r.angle for r in found.rows] == pytest.approx([r.angle for r in told.rows], abs=1e-8)
        assert np.cos([a.turn - b.turn for a, b in zip(found.rows, told.rows, strict=True)]) == pytest.approx(
            np.ones(len(rows)), abs=1e-9
        )
        assert tm.compared(told, found).away.max() < 1e-5


@settings(max_examples=30, deadline=None)
@given(
    rows=CLEAR_ROWS,
    fixed=st.floats(-1, 2),
    share=st.floats(-0.01, 0.03),
    turned=st.floats(-1, 1),
    seed=st.integers(0, 999),
)
def test_two_rounds_bring_a_tube_within_half_a_millimetre(rows, fixed, share, turned, seed):
    told = bends([(feed, turn if i else 0.0, *rest) for i, (feed, turn, *rest) in enumerate(rows)], 150)
    give, random = tb.Springback(0.02, 0.02), np.random.default_rng(seed)
    sample = tm.Sample(tb.Springback(give.fixed + fixed * DEGREE, give.share + share), turned * DEGREE, 0.002, 0.03)
    corrections = [tm.Correction()] * len(rows)
    for _ in range(3):
        made = tm.with_corrections(tb.programmed(told, give), corrections)
        found = tm.compared(
            told, tm.bends_through(tm.probed(tm.bent_of(made, sample), sample.noise, random), [60.0] * len(rows))
        )
        corrections = tm.corrected(corrections, found)
    assert found.away.max() < 0.5


def test_what_cannot_be_measured_is_said():
    along = [np.linspace(0, 1, 4)[:, None] * X + at for at in (ORIGIN, np.array([2.0, 0, 0]))]
    with pytest.raises(Problem) as refusal:
        tm.bends_through(along, [10.0])
    assert refusal.value.message.code == "parallel-straights"
    with pytest.raises(Problem) as refusal:
        tm.bends_from(np.array([(0, 0, 0), (10, 0, 0), (10, 10, 0.0)]), [40.0])
    assert refusal.value.message.code == "bad-bends"


# -- the step --------------------------------------------------------------------------------------------


def test_the_step_says_what_its_machine_meets_and_answers_how_it_goes():
    low = json.loads((DEMO / "suction-riser.json").read_text())
    step(low, "bending").update(machine="reedbank-40-low", flipped=False)
    asked = part_from(low)
    memory = Memory()
    report = build(asked, memory).reports["bending"]
    (hit,) = [m for m in report.messages if m.code == "tube-hits"]
    assert "floor while it is turned for bend 3" in hit.text
    shown = answer(asked, "bending", "run", memory)
    assert (
        len(
            {
                len(shown[c])
                for c in ("rows", "phase", "shift", "turn", "bend", "radius", "tool", "carriage", "arm", "seconds")
            }
        )
        == 1
    )
    assert [h["row"] for h in shown["hits"]] == [2]
    assert shown["hits"][0]["station"] == pytest.approx(hit.place["station"])
    best, other = answer(asked, "bending", "orders", memory)
    assert (best["flipped"], best["hits"], other["flipped"]) == (True, [], False)


def test_measured_twice_the_riser_comes_within_its_tolerance():
    raw = json.loads((DEMO / "suction-riser.json").read_text())
    worst = []
    for _ in range(3):
        told = answer(part_from(raw), "bending", "measured", Memory())
        worst.append(told["worst"])
        step(raw, "bending")["corrections"] = told["corrections"]
    assert worst[0] > told["tolerance"] > max(worst[1:])
    sheet = build(part_from(raw), Memory()).reports["bending"].data["bent"]["rows"]
    assert sheet[1]["made"] > 93.5  # more than its springback alone


@pytest.mark.parametrize(
    ("fields", "code"),
    [
        ({"machine": "reedbank-40", "sweep": {"profile": {"quick": "round", "width": 45}}}, "too-wide-for-machine"),
        ({"machine": "reedbank-40", "fixed": 110}, "beyond-sweep"),
        ({"machine": "reedbank-40", "trim_start": 3500}, "too-long-for-machine"),
    ],
)
def test_what_a_machine_does_not_take_is_said(fields, code):
    found = [m.code for m in build(document(**fields), Memory()).reports["bend"].messages]
    assert code in found


@pytest.mark.parametrize(
    "fields", [{"fixed": -100}, {"corrections": [{"angle": -95}]}, {"corrections": [{}, {"feed": "-71 mm"}]}]
)
def test_a_program_that_cannot_be_made_is_refused(fields):
    (message,) = build(document(**fields), Memory()).reports["bend"].messages
    assert message.code == "bad-program"
    assert message.place["field"] == ("corrections" if "corrections" in fields else "fixed")


def test_a_turn_of_many_rounds_is_made_as_what_it_comes_to():
    told = (
        build(document(corrections=[{}, {"turn": 3600}], machine="reedbank-40"), Memory())
        .reports["bend"]
        .data["bent"]["rows"]
    )
    assert told[1]["turned"] == pytest.approx(told[1]["turn"])


def test_a_short_end_is_short_of_grip():
    short = document(machine="reedbank-40")
    short.steps[0].points[-1].at.y = 60.0
    assert "short-of-grip" in [m.code for m in build(part_from(short.model_dump()), Memory()).reports["bend"].messages]


def test_without_a_machine_or_bends_there_is_nothing_to_play_or_measure():
    for question, code in (("run", "no-machine"), ("orders", "no-machine")):
        with pytest.raises(Problem) as refusal:
            answer(document(), "bend", question, Memory())
        assert refusal.value.message.code == code
    straight = document()
    del straight.steps[0].points[2:]
    with pytest.raises(Problem) as refusal:
        answer(document(machine="reedbank-40", trim_start=3500), "bend", "run", Memory())
    assert refusal.value.message.code == "too-long-for-machine"
    straight.steps[-1].machine = "reedbank-40"
    for question in ("run", "orders", "measured"):
        with pytest.raises(Problem) as refusal:
            answer(straight, "bend", question, Memory())
        assert refusal.value.message.code == "no-bends"
    assert build(straight, Memory()).reports["bend"].state == "fresh"


# -- a row that is changed -------------------------------------------------------------------------------


@settings(max_examples=20, deadline=None)
@given(
    flipped=st.booleans(),
    row=st.integers(0, 1),
    size=st.sampled_from(["feed", "turn", "angle", "radius"]),
    share=st.floats(0.8, 1.2),
)
def test_a_row_that_is_changed_is_so_in_the_path_that_comes_of_it_and_the_others_stay(flipped, row, size, share):
    asked = document(flipped=flipped)
    before = build(asked, Memory()).reports["bend"].data["bent"]
    changed = before["rows"][row][size] * share
    found = answer(asked, "bend", "edited", Memory(), {"row": row, "size": size, "value": changed})
    for point, at in zip(asked.steps[0].points, found["corners"], strict=True):
        point.at.x, point.at.y, point.at.z = at
    for point, radius in zip(asked.steps[0].points[1:-1], found["radii"], strict=True):
        point.radius = radius
    after = build(part_from(asked.model_dump()), Memory()).reports["bend"].data["bent"]
    for i, (was, now) in enumerate(zip(before["rows"], after["rows"], strict=True)):
        for name in ("feed", "turn", "angle", "radius"):
            wanted = changed if (i, name) == (row, size) else was[name]
            assert (
                math.cos(math.radians(now[name] - wanted)) == pytest.approx(1, abs=1e-8)
                if name == "turn"
                else now[name] == pytest.approx(wanted, abs=1e-4)
            )
    assert found["corners"][0] == [0, 0, 0]


@pytest.mark.parametrize(
    ("given", "code"),
    [
        ({"row": 5, "size": "feed", "value": 3}, "unknown-row"),
        ({"row": 0, "size": "angle", "value": "181 deg"}, "bad-bends"),
        ({"row": 0, "size": "feed", "value": "-2 mm"}, "bad-bends"),
        ({"row": 0, "size": "radius", "value": "wide"}, "unknown-name"),
    ],
)
def test_a_row_that_cannot_be_so_is_refused(given, code):
    with pytest.raises(Problem) as refusal:
        answer(document(), "bend", "edited", Memory(), given)
    assert refusal.value.message.code == code
