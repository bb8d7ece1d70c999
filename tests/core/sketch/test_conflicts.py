"""What disagrees in a sketch is named: the fewest, all of them, whatever else is there."""

import numpy as np
import pytest

from leadline.core.problems import Problem
from leadline.core.sketch.dragging import drag
from leadline.core.sketch.solver import build_system, explain_extra, solve_sketch
from leadline.core.sketch.system import External
from tests.support.contradictions import can_be, refusal, some_contradiction
from tests.support.families import belt, mirrored_arcs, polyline, rack
from tests.support.shapes import Draw, rectangle

LONG = 12  # members from which the judge's own search for a state is not sure to find one


@pytest.mark.parametrize(
    "seed", [*((5, k) for k in range(12)), (3, 9)]
)  # the last holds only from where most of it held before
def test_a_named_set_is_infeasible_and_becomes_feasible_without_any_one_member(seed):
    draw = some_contradiction(*seed)
    message = refusal(draw)
    named = message.place["items"]
    assert named
    if message.code == "turned-over":  # not a contradiction, and not said to be one
        return
    assert not can_be(draw, named)
    for gone in named if len(named) <= LONG else ():
        assert can_be(draw, [n for n in named if n != gone], 60), gone


def test_what_is_held_exactly_is_named_too():
    """At the least-squares state a level line leaves no trace of being held level."""
    d = Draw()
    d.point("a", 0, 0)
    d.point("b", 30, 0)
    d.line("l", "a", "b")
    level, _, upright = d.hold("horizontal", "l"), d.size("length", 30, "l"), d.hold("vertical", "l")
    assert set(refusal(d).place["items"]) >= {level, upright}
    names, agrees = explain_extra(d.sketch(), upright, External(d.values))
    assert not agrees
    assert level in names
    d.data["constraints"] = [c for c in d.data["constraints"] if c["id"] != level]
    at = {p.id: (p.x, p.y) for p in solve_sketch(d.sketch(), External(d.values)).sketch.points}
    assert at["a"][0] == pytest.approx(at["b"][0])  # a level line can be stood up, either way
    assert abs(at["a"][1] - at["b"][1]) == pytest.approx(30)


@pytest.mark.parametrize("seed", range(8))
def test_an_ellipse_without_an_axis_is_named_drawn_so_or_held_so(seed):
    """There its equations have no values: no search can begin."""
    chance = np.random.default_rng(seed)
    d = Draw()
    drawn = np.zeros(2) if seed % 4 == 0 else chance.uniform(5, 40, 2)
    for name, place in (("c", drawn), ("m", drawn if seed % 2 else drawn + 14), ("t", chance.uniform(50, 90, 2))):
        d.point(name, *place)
    d.ellipse("e", "c", "m", 8)
    on = d.hold("on_curve", "t", "e")
    ties = [d.hold("coincident", "c", "O") if seed % 4 == 0 else d.hold("fix", "c"), d.hold("on_path", "m", path="way")]
    if chance.random() < 0.5:
        d.size("distance", float(chance.uniform(5, 40)), "t", "O")
    with pytest.raises(Problem) as refused:
        solve_sketch(d.sketch(), External(d.values, {ties[1]: (float(drawn[0]), float(drawn[1]))}))
    message = refused.value.message
    assert message.code in ({"shrunk"} if seed % 2 else {"conflict", "limit"})
    assert set(message.place["items"]) >= ({on} if seed % 2 else set(ties))


def test_merged_coincidences_are_named():
    d = rectangle(40, 20)
    d.data["points"].append({"id": "z", "x": 40, "y": 20})
    tie = d.hold("coincident", "z", "c")
    far = d.size("distance", 90, "z", "O")
    wide, high = d.size("length", 40, "l1"), d.size("length", 20, "l2")
    named = refusal(d).place["items"]
    assert {tie, far, wide, high} <= set(named)


def test_every_limit_names_what_holds_it():
    for make, kind, items, value in (
        (belt, "radius", ("k1",), 90),
        (belt, "length", ("l0",), 70),
        (lambda: rectangle(40, 20), "distance", ("c", "O"), 15),
    ):
        d = make()
        d.size("distance", 60, "c1", "c2") if make is belt else None
        d.size("radius", 10, "k2") if make is belt else d.size("length", 40, "l1")
        d.size(kind, value, *items)
        message = refusal(d)
        assert "the shape itself" not in message.text
        assert len(message.place["items"]) > 1


def test_a_line_end_on_a_circle_that_it_touches_is_counted_once():
    d = belt()
    for size in (("radius", 20, "k1"), ("radius", 10, "k2"), ("distance", 60, "c1", "c2")):
        d.size(*size)
    solution = solve_sketch(d.sketch(), External(d.values))
    assert (solution.freedom, solution.repeated) == (0, [])
    driven = solve_sketch(d.sketch(), External({**d.values, "d0": 14.0})).sketch
    system = build_system(driven, External({**d.values, "d0": 14.0}))
    assert np.abs(system.equations.residual(system.state())).max() < 1e-9


def test_mirrored_arcs_repeat_nothing():
    """Each arc has five freedoms; mirroring takes those of one, and the top line none."""
    d = mirrored_arcs()
    solution = solve_sketch(d.sketch(), External(d.values))
    assert (solution.freedom, solution.repeated) == (5, [])
    d.size("radius", 10, "left")
    moved = solve_sketch(d.sketch(), External({"d0": 14.0})).sketch
    at = {p.id: np.array([p.x, p.y]) for p in moved.points}
    for a, b in (("cl", "cr"), ("il", "ir"), ("ol", "or")):
        assert at[a] * [-1, 1] == pytest.approx(at[b], abs=1e-9)


@pytest.mark.parametrize("teeth", [5, 40, 80])
def test_many_small_edges_take_one_step(teeth):
    from leadline.core.sketch import stepping

    d = rack(teeth)
    d.size("radius", 1, "r1")
    system = build_system(d.sketch(), External({"d0": 0.7}))
    done = stepping.solve(system, system.state())
    assert done.solved
    assert done.steps == 1
    assert np.abs(system.equations.residual(done.x)).max() < 1e-11


@pytest.mark.parametrize("make", [belt, polyline, mirrored_arcs, lambda: rack(4)])
def test_no_pull_throws_the_sketch_away(make):
    """Wherever a point is pulled, the sketch stays within twice the size of itself and the pointer together."""
    d = make()
    start = solve_sketch(d.sketch(), External(d.values)).sketch
    random = np.random.default_rng(3)
    places = np.array([(p.x, p.y) for p in start.points])
    size = np.ptp(places, axis=0).max()
    for _ in range(25):
        item = str(random.choice([p.id for p in start.points]))
        to = places.mean(axis=0) + size * random.uniform(-2, 2, 2)
        moved = np.array(
            [(p.x, p.y) for p in drag(start, item, (float(to[0]), float(to[1])), External(d.values)).points]
        )
        allowed = 2.001 * np.ptp(np.vstack([places, to]), axis=0).max() + 2 * max(
            (e.radius for e in start.entities if e.kind == "circle"), default=0
        )
        assert np.ptp(moved, axis=0).max() <= allowed
