"""Edges of bodies as paths: rims, tracks of corners, tangent chains; against closed forms and the motion itself."""

from __future__ import annotations

import math

import numpy as np
import pytest

from leadline.core.sweep.borders import edge_name
from leadline.recipe.build import build
from leadline.recipe.products import HasMotion
from tests.support.parts import XY, XZ, circle, curve, part, polyline, sketch
from tests.support.shapes import Draw


def rounded(width=60.0, depth=40.0, radius=8.0) -> Draw:
    """A rectangle with round corners, edges s0 to s3 and arcs a0 to a3."""
    d = Draw()
    corners = [(0, 0), (width, 0), (width, depth), (0, depth)]
    ways = [(1, 0), (0, 1), (-1, 0), (0, -1)]
    for i, ((x, y), (u, v)) in enumerate(zip(corners, ways, strict=True)):
        p, q = ways[i - 1]
        d.point(f"in{i}", x - p * radius, y - q * radius)
        d.point(f"out{i}", x + u * radius, y + v * radius)
        d.point(f"c{i}", x - (p - u) * radius, y - (q - v) * radius)
    for i in range(4):
        d.line(f"s{i}", f"out{i}", f"in{(i + 1) % 4}")
        d.arc(f"a{i}", f"c{i}", f"in{i}", f"out{i}")
    return d


def slab(draw, height=12):
    return [
        sketch("outline", XY, draw),
        {"kind": "extrude", "id": "slab", "name": "Slab", "profile": {"step": "outline"}, "length": height},
    ]


def chained(*steps, edges, tangent=True):
    step = {
        "kind": "edges",
        "id": "rim",
        "name": "Rim",
        "edges": [{"step": s, "edge": e} for s, e in edges],
        "tangent": tangent,
    }
    products: dict = {}
    result = build(
        part({"format": "leadline-part", "version": 1, "name": "Rim", "units": "mm", "steps": [*steps, step]}),
        products=products,
    )
    return result.reports["rim"], products.get("rim")


def top(side):
    return ("slab", edge_name("slab/cap/end", f"slab/side/{side}/0"))


def test_one_edge_of_a_rounded_slab_leads_all_round_it():
    report, product = chained(*slab(rounded()), edges=[top("s1")])
    path = product.path
    assert path.closed
    assert path.length == pytest.approx(2 * (60 + 40) - 8 * 8 + 2 * math.pi * 8)
    assert {p.kind for p in path.pieces} == {"line", "arc"}
    assert [j.kind for j in path.joints] == ["tangent"] * 8
    assert path.point(np.linspace(0, path.length, 40))[:, 2] == pytest.approx(np.full(40, 12))
    assert report.figure.startswith("8 edges")
    alone, product = chained(*slab(rounded()), edges=[top("s1")], tangent=False)
    assert product.path.length == pytest.approx(24)
    assert alone.data["edges"] == [top("s1")[1]]


def test_sharp_corners_end_a_chain_but_picked_edges_go_round_them():
    box = slab(polyline((0, 0), (50, 0), (50, 30), (0, 30), (0, 0)))
    _, product = chained(*box, edges=[top("e0")])
    assert product.path.length == pytest.approx(50)
    report, product = chained(*box, edges=[top("e2"), top("e0"), top("e1")])
    assert product.path.length == pytest.approx(130)
    assert [m.code for m in report.messages] == ["corner", "corner"]
    report, _ = chained(*box, edges=[top("e0"), top("e2")])
    assert report.messages[0].code == "gap"


def test_corners_of_a_section_that_was_swept_round_a_bend():
    """The edge of a bar of 10 x 6 about a quarter bend of 40: inside and outside by half its width."""
    bend = Draw()
    for name, x, y in (("a", 0, 0), ("b", 60, 0), ("c", 100, 40), ("m", 60, 40)):
        bend.point(name, x, y)
    bend.line("run", "a", "b")
    bend.arc("turn", "m", "b", "c")
    bar = [
        sketch("way", XZ, bend),
        {
            "kind": "sweep",
            "id": "bar",
            "name": "Bar",
            "path": {"step": "way"},
            "profile": {"quick": "rectangle", "width": 10, "height": 6},
        },
    ]
    lengths = set()
    for a, b in (("below", "right"), ("right", "above"), ("above", "left"), ("below", "left")):
        name = edge_name(f"bar/side/{a}/run", f"bar/side/{b}/run")
        _, product = chained(*bar, edges=[("bar", name)])
        assert [p.kind for p in product.path.pieces] == ["line", "arc"]
        lengths.add(round(product.path.length, 6))
    assert lengths == {round(60 + (40 + d) * math.pi / 2, 6) for d in (-5, 5)} or lengths == {
        round(60 + (40 + d) * math.pi / 2, 6) for d in (-3, 3)
    }


def test_the_edge_of_a_blade_on_a_helix_is_the_helix_of_its_own_radius():
    blade = [
        {"kind": "helix", "id": "coil", "name": "Coil", "plane": XY, "radius": 20, "pitch": 15, "turns": 3},
        {
            "kind": "sweep",
            "id": "blade",
            "name": "Blade",
            "path": {"step": "coil"},
            "profile": {"quick": "rectangle", "width": 2, "height": 8},
            "orientation": "upright",
            "up": {"by": "axis", "axis": "Z"},
        },
    ]
    found = set()
    for a, b in (("below", "right"), ("above", "right"), ("above", "left"), ("below", "left")):
        _, product = chained(*blade, edges=[("blade", edge_name(f"blade/side/{a}/helix", f"blade/side/{b}/helix"))])
        found.add(round(product.path.length, 3))
        s = np.linspace(0, product.path.length, 200)
        p = product.path.point(s)
        radius = np.hypot(p[:, 0], p[:, 1])
        assert np.ptp(radius) < 1e-6
        assert product.path.length == pytest.approx(3 * math.hypot(2 * math.pi * radius[0], 15), rel=1e-9)
    assert len(found) == 2


def test_a_spline_edge_and_an_edge_along_a_free_path_are_followed():
    reed = slab(wavy())
    _, product = chained(*reed, edges=[top("s")])
    outline, _ = chained(*reed, edges=[("slab", edge_name("slab/cap/start", "slab/side/s/0"))])
    assert product.path.length == pytest.approx(outline.data["path"]["length"])
    trim = [
        sketch("way", XZ, curve((0, 0), (50, 20), (110, -10))),
        {
            "kind": "sweep",
            "id": "trim",
            "name": "Trim",
            "path": {"step": "way"},
            "profile": {"quick": "rectangle", "width": 6, "height": 4},
            "twist": 0.5,
        },
    ]
    products: dict = {}
    build(
        part({"format": "leadline-part", "version": 1, "name": "Trim", "units": "mm", "steps": trim}), products=products
    )
    motion = products["trim"].give(HasMotion).motion
    _, product = chained(*trim, edges=[("trim", edge_name("trim/side/right/s", "trim/side/above/s"))])
    exact = motion.frames(np.linspace(0, motion.length, 20001)).at(np.array([[3.0, 2.0]]))[:, 0]
    assert product.path.length == pytest.approx(np.linalg.norm(np.diff(exact, axis=0), axis=1).sum(), rel=1e-7)
    ends = product.path.point(np.array([0.0, product.path.length]))
    assert ends == pytest.approx(exact[[0, -1]], abs=1e-7)


def wavy() -> Draw:
    d = Draw()
    for i, (x, y) in enumerate([(0, 0), (40, 15), (80, -5), (120, 10), (120, 40), (0, 40)]):
        d.point(f"p{i}", x, y)
    d.spline("s", "p0", "p1", "p2", "p3")
    d.line("a", "p3", "p4")
    d.line("b", "p4", "p5")
    d.line("c", "p5", "p0")
    return d


def test_a_round_rim_is_one_closed_edge_and_one_that_is_gone_is_said():
    _, product = chained(*slab(circle(15)), edges=[top("ring")])
    assert product.path.closed
    assert product.path.length == pytest.approx(30 * math.pi)
    report, _ = chained(*slab(circle(15)), edges=[top("lost")])
    assert report.messages[0].code == "deleted-reference"
    assert report.messages[0].place["source"] == "slab"
