"""Threads built directly beside the general cut, rates of springs, and sheets as PDF."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks import thread_cut
from benchmarks.timing import best, table, verdict
from leadline.core.geometry.hidden_lines import Drawable
from leadline.core.paths.bends import BendRow, Bends
from leadline.core.paths.path import Path as Line
from leadline.core.paths.pieces import LinePiece
from leadline.core.solids.body import Body
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.threading import threaded
from leadline.core.sweep.motion import Motion
from leadline.core.trades.bender import bender
from leadline.core.trades.bender_run import Program, run
from leadline.core.trades.thread_forms import tooth
from leadline.core.trades.thread_groove import groove_of
from leadline.core.trades.thread_shape import Fading, thread
from leadline.core.trades.tube_bending import Springback, programmed
from leadline.core.trades.wire_rate import compliance
from leadline.core.units import LengthUnit
from leadline.exports.sheet_pdf import Heading, sheet_pdf
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from, read_part
from leadline.recipe.products import HasPath, HasSpring, Product
from leadline.recipe.sheets import make_sheet
from tests.support.shapes import X, Z, disc

DEMO = Path(__file__).resolve().parents[1] / "demo"
RADIUS, PITCH = 10.0, 2.0
BENDS, PLAYED = 12, 2.0
SHARE, ERROR, RATE, CURVE, PDF = 0.25, 1e-6, 50.0, 200.0, 1.0


def _threaded(turns: int) -> tuple[Body, float]:
    """A rod with a metric thread of so many turns; by how much its volume is off the quadrature, of what the thread
    takes.
    """
    height = turns * PITCH + 8
    rod = sweep_bodies(Motion(Line([LinePiece(np.zeros(3), height * Z, "line")], up=X)), [disc(RADIUS)], "rod", "Rod")[
        0
    ]
    groove = groove_of(tooth("metric", "outside", 2 * RADIUS, PITCH), "outside")
    return threaded(
        rod, rod.face_names[0], thread((RADIUS, height), "outside", groove, PITCH, None, Fading(turns * PITCH, 1)), "t"
    )


def _error(turns: int) -> float:
    made, took = _threaded(turns)
    rod = np.pi * RADIUS**2 * (turns * PITCH + 8)
    return abs((rod - made.volume()) / took - 1)


def report() -> str:
    general, _ = best(lambda: thread_cut.cut(12), 3)
    twelve, (body, _) = best(lambda: _threaded(12), 3)
    sixty, _ = best(lambda: _threaded(60), 3)
    error = _error(12)
    rows = [
        [
            "12 turns of a thread, as a share of the general cut's time",
            f"{twelve / general:.2f}",
            f"{SHARE:g}",
            verdict(twelve < SHARE * general),
        ],
        ["seconds, for orientation only: direct / general", f"{twelve:.2f} / {general:.2f}", "", ""],
        ["60 turns against five times twelve", f"{sixty / twelve / 5:.2f}", "1.1", verdict(sixty < 1.1 * 5 * twelve)],
        ["volume against quadrature", f"{error:.1e}", f"{ERROR:.0e}", verdict(error < ERROR)],
        ["valid", str(body.valid()).lower(), "true", verdict(body.valid())],
        *_bender(),
        *_springs(),
        *_sheets(),
    ]
    return table("Threads, springs and sheets", ["what", "reached", "target", ""], rows)


def _bender() -> list[list[str]]:
    """A program of 12 bends over 3 m on a machine, with all that it meets."""
    rows, at = [], 0.0
    for i in range(BENDS):
        rows.append(BendRow(150.0, 0.0 if i == 0 else (-1) ** i * 1.1, 1.0, 60.0, at + 150.0, at + 210.0))
        at = rows[-1].end
    told = Bends(tuple(rows), 150.0)
    program = Program(told, programmed(told, Springback(0.02, 0.02, 0.01)), tuple(r.turn for r in rows), 20.0)
    seconds, played = best(lambda: run(program, bender("reedbank-40")), 5)
    return [
        [
            f"{BENDS} bends over {program.length / 1000:.1f} m played with all that is met, s",
            f"{seconds:.2f}",
            f"{PLAYED:g}",
            verdict(seconds < PLAYED),
        ],
        [
            "moments of it for a second of the machine's time (30 pictures are drawn between them)",
            f"{len(played.moments.seconds) / played.seconds:.0f}",
            "",
            "",
        ],
    ]


def _springs() -> list[list[str]]:
    products: dict[str, Product] = {}
    part = read_part((DEMO / "bent-relief-spring.json").read_bytes())
    build(part, Memory(), quick=True, products=products)
    line = next(p.give(HasPath) for p in (products["lay"],))
    assert line is not None
    path = line.follow()
    seconds, _ = best(lambda: compliance(path, 2.0, 81500, 206000), 9)
    document = json.loads((DEMO / "valve-spring.json").read_bytes())

    def curve() -> Product:
        made: dict[str, Product] = {}
        build(part_from(document), Memory(), quick=True, products=made)
        return made["spring"]

    whole, spring = best(curve, 5)
    assert spring.give(HasSpring) is not None
    return [
        [
            "rate of the Bent relief spring by its own wire, ms",
            f"{seconds * 1000:.0f}",
            f"{RATE:.0f}",
            verdict(seconds * 1000 < RATE),
        ],
        [
            "all that is told of the Valve spring, its curve and its plan, ms",
            f"{whole * 1000:.0f}",
            f"{CURVE:.0f}",
            verdict(whole * 1000 < CURVE),
        ],
    ]


def _pdf(make: Callable[[], Any], heading: Heading, bodies: Sequence[Drawable], unit: LengthUnit) -> bytes:
    return sheet_pdf(make(), heading, bodies, unit)


def _sheets() -> list[list[str]]:
    rows = []
    for name, step, sheet in (
        ("suction-riser", "bending", "tube"),
        ("valve-spring", "spring", "spring"),
        ("drain-plug", "outer", "thread"),
    ):
        part, memory = read_part((DEMO / f"{name}.json").read_bytes()), Memory()
        result = build(part, memory)
        bodies = [k.drawable() for k in result.bodies if k.step == step] or [result.bodies[0].drawable()]
        heading = Heading(sheet, part.name, step, 1, "now")

        made = partial(make_sheet, part, step, sheet, memory, whole=True)
        seconds, _ = best(partial(_pdf, made, heading, bodies, part.units), 3)
        rows.append([f"sheet of the {part.name} as PDF, s", f"{seconds:.2f}", f"{PDF:g}", verdict(seconds < PDF)])
    return rows
