"""Parts with many copies, tools or turns: seconds, and how many times those of one."""

from __future__ import annotations

from typing import Any

from benchmarks.timing import best, table
from leadline.recipe.build import Memory, build
from tests.support.parts import XY, XZ, YZ, circle, curve, part, polyline, sketch

COPIES, PEGS, STARTS, TURNS = 5000, 60, 24, 300
Steps = list[dict[str, Any]]


def report() -> str:
    cases = {
        f"{COPIES} links in a row on a free curve": (_links(COPIES), _links(1)),
        f"{COPIES} pegs on a coil of 40 turns": (_coiled(COPIES), _coiled(1)),
        f"{COPIES} links heaped up on 100 mm": (_heap(COPIES), _heap(1)),
        f"{PEGS} pegs added to a rod": (_pegs(PEGS), _pegs(1)),
        f"a knurl of {STARTS} starts cut into a rod": (_knurl(STARTS), _knurl(1)),
        f"a square bar twisted by {TURNS} turns": (_bar(TURNS), _bar(1)),
    }
    rows = []
    for name, (many, one) in cases.items():
        seconds, least = _seconds(many), _seconds(one)
        rows.append([name, f"{seconds:.2f}", f"{seconds / least:.1f}"])
    return table("Heavy parts, from nothing to mesh (best of two)", ["what", "s", "times one"], rows)


def _seconds(steps: Steps) -> float:
    document = part({"format": "leadline-part", "version": 1, "name": "Heavy", "units": "mm", "steps": steps})
    seconds, result = best(lambda: build(document, Memory()), 2)
    if result.reports[steps[-1]["id"]].state != "fresh":
        raise RuntimeError(f"{steps[-1]['name']} does not build")
    return seconds


def _repeat(count: int, seat: object, **more: object) -> dict[str, Any]:
    return {
        "kind": "repeat",
        "id": "row",
        "name": "Row",
        "source": "one",
        "path": {"step": "way"},
        "seat": seat,
        "count": count,
        **more,
    }


def _link(way: dict[str, Any], count: int) -> Steps:
    link = {
        "kind": "sweep",
        "id": "one",
        "name": "Link",
        "path": {"step": "ring"},
        "profile": {"quick": "round", "width": 1},
    }
    return [sketch("ring", XZ, polyline((0, 0), (4, 0))), link, way, _repeat(count, YZ)]


def _links(count: int) -> Steps:
    return _link(sketch("way", XZ, curve((0, 60), (3500, 1300), (7000, 100), (10000, 700))), count)


def _heap(count: int) -> Steps:
    return _link(sketch("way", XZ, polyline((0, 0), (0, 100))), count)


def _peg() -> Steps:
    return [
        sketch("outline", YZ, circle(2)),
        {"kind": "extrude", "id": "one", "name": "Peg", "profile": {"step": "outline"}, "length": 30},
    ]


def _coiled(count: int) -> Steps:
    way = {
        "kind": "helix",
        "id": "way",
        "name": "Way",
        "plane": XY,
        "radius": 200,
        "pitch": 9,
        "turns": 40,
        "height": None,
    }
    return [*_peg(), way, _repeat(count, YZ)]


def _rod(length: float) -> Steps:
    return [
        sketch("round", XY, circle(20)),
        {"kind": "extrude", "id": "rod", "name": "Rod", "profile": {"step": "round"}, "length": length},
    ]


def _pegs(count: int) -> Steps:
    return [*_rod(400), *_peg(), sketch("way", XZ, polyline((0, 5), (0, 395))), _repeat(count, XY, result="add")]


def _knurl(starts: int) -> Steps:
    axis = {
        "kind": "helix",
        "id": "axis",
        "name": "Axis",
        "plane": XY,
        "radius": 20,
        "pitch": 5,
        "turns": None,
        "height": 30,
        "starts": starts,
    }
    wire = {
        "kind": "sweep",
        "id": "knurl",
        "name": "Knurl",
        "path": {"step": "axis"},
        "profile": {"quick": "round", "width": 1},
        "result": "cut",
    }
    return [*_rod(30), axis, wire]


def _bar(turns: int) -> Steps:
    bar = {
        "kind": "sweep",
        "id": "bar",
        "name": "Bar",
        "path": {"step": "way"},
        "profile": {"quick": "rectangle", "width": 10, "height": 10},
    }
    return [sketch("way", XZ, polyline((0, 0), (0, 500))), {**bar, "twist": turns}]
