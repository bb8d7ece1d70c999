"""From sketches to chains and regions: what joins, what does not, and where."""

import math

import pytest

from leadline.core.problems import Problem
from leadline.core.sketch.outline import chains, regions, single_chain
from tests.support.shapes import Draw, filleted_rectangle, rectangle, slot, tangent_chain


def test_a_chain_is_found_whatever_the_order_of_drawing():
    d = tangent_chain(9)
    d.data["entities"] = d.data["entities"][::2] + d.data["entities"][1::2]
    chain = single_chain(d.sketch())
    names = [e.id for e in chain.entities]
    assert names in ([f"e{i}" for i in range(9)], [f"e{i}" for i in reversed(range(9))])
    assert not chain.closed


def test_regions_of_closed_outlines():
    (found,) = regions(rectangle(40, 20).sketch())
    assert found.area == pytest.approx(800)
    (found,) = regions(slot(40, 10).sketch())
    assert found.area == pytest.approx(800 + math.pi * 100)
    (found,) = regions(filleted_rectangle(60, 40, 8).sketch())
    assert found.area == pytest.approx(2400 - (4 - math.pi) * 64)


def test_islands_and_islands_in_islands():
    d = Draw()
    d.point("c", 0, 0)
    for name, radius in (("e1", 20), ("e2", 15), ("e3", 10), ("e4", 5)):
        d.circle(name, "c", radius)
    found = regions(d.sketch())
    areas = sorted(r.area / math.pi for r in found)
    assert areas == pytest.approx([100 - 25, 400 - 225])
    assert {r.id for r in found} == {"e1", "e3"}
    (only,) = regions(d.sketch(), ["e3"])
    assert only.area == pytest.approx(75 * math.pi)


def test_construction_is_left_out():
    d = rectangle()
    d.line("x", "a", "c", construction=True)
    assert len(regions(d.sketch())) == 1


def problem(call, *arguments):
    with pytest.raises(Problem) as caught:
        call(*arguments)
    assert caught.value.message.way_out
    return caught.value.message


def test_an_open_outline_says_where_and_how_far():
    d = Draw()
    for name, x, y in (("a", 0, 0), ("b", 10, 0), ("c", 10, 10), ("e", 0, 9.5)):
        d.point(name, x, y)
    for i, (p, q) in enumerate((("a", "b"), ("b", "c"), ("c", "e"))):
        d.line(f"l{i}", p, q)
    message = problem(regions, d.sketch())
    assert message.code == "no-region"
    assert "9.5 mm" in message.text


def test_an_empty_profile_is_refused():
    assert problem(regions, Draw().sketch()).code == "no-region"
    assert problem(single_chain, Draw().sketch()).code == "no-path"


def test_a_gap_is_measured():
    d = Draw()
    for name, x, y in (("a", 0, 0), ("b", 10, 0), ("c", 10.3, 0.4), ("e", 20, 5)):
        d.point(name, x, y)
    d.line("l1", "a", "b")
    d.line("l2", "c", "e")
    message = problem(single_chain, d.sketch())
    assert message.code == "gap"
    assert "0.5 mm" in message.text
    assert message.place["items"] == ["l2"]


def test_a_branch_names_the_place_and_the_curves():
    d = rectangle()
    d.point("x", 60, 5)
    d.line("spur", "b", "x")
    message = problem(chains, d.sketch())
    assert message.code == "branch"
    assert message.place["at"] == [40, 0]
    assert set(message.place["items"]) == {"l1", "l2", "spur"}


def test_outlines_that_cross_are_refused():
    d = Draw()
    d.point("c", 0, 0)
    d.point("q", 12, 0)
    d.circle("e1", "c", 10)
    d.circle("e2", "q", 10)
    assert problem(regions, d.sketch()).code == "outlines-cross"
    bow = Draw()
    for name, x, y in (("a", 0, 0), ("b", 10, 10), ("c", 10, 0), ("e", 0, 10)):
        bow.point(name, x, y)
    for i, (p, q) in enumerate((("a", "b"), ("b", "c"), ("c", "e"), ("e", "a"))):
        bow.line(f"l{i}", p, q)
    assert problem(regions, bow.sketch()).code == "crosses-itself"


def test_a_region_that_is_gone_is_said():
    assert problem(regions, rectangle().sketch(), ["e9"]).code == "deleted-reference"


def test_an_outline_that_goes_there_and_back_is_refused_and_not_a_crash():
    d = Draw()
    d.point("a", 0, 0)
    d.point("b", 5, 0)
    d.line("there", "a", "b")
    d.line("back", "b", "a")
    with pytest.raises(Problem) as caught:
        regions(d.sketch())
    assert caught.value.message.code == "no-area"
