"""Paths in space: a coil about a free curve, an elastic hose, a route of 200 points."""

from __future__ import annotations

import math

import numpy as np
from scipy.optimize import brentq
from scipy.special import ellipe, ellipk

from benchmarks.timing import best, table, verdict
from leadline.core.geometry.laws import Even
from leadline.core.geometry.plane import Array
from leadline.core.paths.formers import RoundFormer
from leadline.core.paths.hose import Port, hanging, tightest
from leadline.core.paths.path import Path
from leadline.core.paths.wound import wound
from leadline.recipe.build import Memory, build
from tests.support.parts import demo, part
from tests.support.shapes import X, space_spline

TURNS, RADIUS = 50, 5.0
COIL_MS, COIL_OFF = 50.0, 1e-6
ROD_MS, ROD_OFF = 150.0, 1e-4
POINTS, ROUTE_MS = 200, 30.0


def report() -> str:
    rows = [*_coil(), *_both_ways(), *_rod(), _route()]
    return table(
        "Paths in space (ms, best of nine; deviations from closed forms)", ["what", "reached", "target", ""], rows
    )


def _coil() -> list[list[str]]:
    carrier = space_spline()
    angle = Even(0.0, 2 * math.pi * TURNS / carrier.length)
    seconds, path = best(lambda: wound(carrier, carrier.start_normal(), angle, Even(RADIUS), RoundFormer()))
    off = _off_the_tube(carrier, path)
    return [
        [
            f"coil of {TURNS} turns about a 5-point free curve",
            f"{seconds * 1000:.0f}",
            f"{COIL_MS:.0f}",
            verdict(seconds * 1000 < COIL_MS),
        ],
        ["its distance from the exact tube, mm", f"{off:.0e}", f"{COIL_OFF:.0e}", verdict(off < COIL_OFF)],
    ]


def _both_ways() -> list[list[str]]:
    """The Bent relief spring's coil line, wound and as the crossing of a winding ramp with a tapered tube."""
    seconds, lengths = zip(
        *(_coil_line(name) for name in ("bent-relief-spring", "bent-relief-spring-long-way")), strict=True
    )
    return [
        [
            "the relief spring's coil line as a crossing, its time to that of winding it",
            f"{seconds[1] / seconds[0]:.0f}",
            "",
            "",
        ],
        ["length of the wound one, mm", f"{lengths[0]:.6f}", "", ""],
        ["length of the crossing, mm", f"{lengths[1]:.6f}", "", ""],
    ]


def _coil_line(name: str) -> tuple[float, float]:
    report = build(demo(name), until="lay").reports["lay"]
    return report.seconds, float(report.data["path"]["length"])


def _off_the_tube(carrier: Path, path: Path) -> float:
    """The greatest departure from the radius, with each place's foot on the carrier found anew."""
    places = path.point(np.linspace(0.0, path.length, 2001))
    dense = np.linspace(0.0, carrier.length, 20001)
    at = carrier.point(dense)
    foot = np.array([dense[int(np.argmin(np.linalg.norm(at - p, axis=1)))] for p in places])
    for _ in range(20):
        gap = places - carrier.point(foot)
        slope = 1 - (gap * carrier.curvature(foot)).sum(axis=1)
        foot = np.clip(foot + (gap * carrier.tangent(foot)).sum(axis=1) / slope, 0.0, carrier.length)
    return float(np.abs(np.linalg.norm(places - carrier.point(foot), axis=1) - RADIUS).max())


def _rod() -> list[list[str]]:
    length, span = 200.0, 0.7
    k = brentq(lambda m: 2 * ellipe(m) / ellipk(m) - 1 - span, 1e-9, 0.999) ** 0.5
    start, end = Port(np.zeros(3), X, 0.0), Port(np.array([span * length, 0, 0]), -X, 0.0)
    seconds, path = best(lambda: hanging(start, end, length))
    sag: Array = path.point(np.linspace(0, path.length, 2001))[:, 2]
    off = abs(float(np.ptp(sag)) / (k * length / float(ellipk(k * k))) - 1)
    bend = abs(tightest(path)[0] / (length / (8 * k * float(ellipk(k * k)))) - 1)
    return [
        ["elastic hose, 240 segments", f"{seconds * 1000:.0f}", f"{ROD_MS:.0f}", verdict(seconds * 1000 < ROD_MS)],
        ["its sag against the elastica, relative", f"{off:.0e}", f"{ROD_OFF:.0e}", verdict(off < ROD_OFF)],
        ["its tightest bend against the elastica, relative", f"{bend:.0e}", f"{ROD_OFF:.0e}", verdict(bend < ROD_OFF)],
    ]


def _route() -> list[str]:
    rng = np.random.default_rng(1)
    places = np.cumsum(rng.uniform(15, 40, size=(POINTS, 3)) * [1, 1, 0.4], axis=0)
    points = [
        {"id": f"q{i}", "at": {"by": "place", "x": x, "y": y, "z": z}} for i, (x, y, z) in enumerate(places.tolist())
    ]
    step = {"kind": "route", "id": "run", "name": "Run", "radius": 5, "points": points}
    memory, shift = Memory(), iter(range(10**6))

    def edit() -> None:
        points[100]["at"]["x"] = places[100, 0] + next(shift) / 1000  # type: ignore[index]
        result = build(part({"format": "leadline-part", "version": 1, "name": "P", "steps": [step]}), memory)
        if result.reports["run"].state != "fresh":
            raise RuntimeError("the route does not build")

    seconds, _ = best(edit)
    return [
        f"a point of a {POINTS}-point route moved",
        f"{seconds * 1000:.0f}",
        f"{ROUTE_MS:.0f}",
        verdict(seconds * 1000 < ROUTE_MS),
    ]
