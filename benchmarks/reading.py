"""Bodies from files: a large STEP file read by the program beside the kernel's bare reading of it, and a path's
clearance to what is in it.
"""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy

from benchmarks.timing import best, table, verdict
from leadline.core.solids.body import Body
from leadline.core.solids.step_file import Placed, read_step, write_step
from leadline.core.solids.step_reading import read_bodies
from leadline.recipe.build import Memory, build
from leadline.recipe.files import digest_of, with_files
from tests.support.parts import XY, circle, part, polyline, sketch

RINGS, ROW, APART = 400, 20, 30.0


def assembly() -> bytes:
    """Four hundred rings as solids of their own, in rows."""
    steps = [
        sketch("wire", XY, circle(2, 10, 0)),
        {"kind": "revolve", "id": "ring", "name": "Ring", "profile": {"step": "wire"}},
    ]
    (ring,) = build(
        part({"format": "leadline-part", "version": 1, "name": "Ring", "units": "mm", "steps": steps})
    ).bodies
    placed = []
    for i in range(RINGS):
        moved = ring.body.moved(np.eye(3), np.array([APART * (i % ROW), APART * (i // ROW), 0.0]))
        placed.append(Placed(Body(f"Ring {i + 1}", BRepBuilderAPI_Copy(moved.shape).Shape(), moved.face_names)))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "rings.step"
        write_step(placed, path)
        return path.read_bytes()


def report() -> str:
    data = assembly()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "rings.step"
        path.write_bytes(data)
        bare, _ = best(lambda: read_step(path), 3)
        ours, read = best(lambda: read_bodies(data), 3)
    whole = sum(s.name == f"Ring {i + 1}" for i, s in enumerate(read.solids))
    step = {"kind": "imported", "id": "in", "name": "Rings", "file": digest_of(data)}
    way = sketch("way", XY, polyline((-20, 15), (APART * ROW, 15)))
    check = {"kind": "clearance", "id": "check", "name": "Room", "path": {"step": "way"}, "diameter": 4}
    memory = Memory(faces=100_000)
    document = with_files(
        part({"format": "leadline-part", "version": 1, "name": "Rings", "units": "mm", "steps": [step, way, check]}),
        [(digest_of(data), data)],
    )
    began = time.perf_counter()
    result = build(document, memory)
    first = time.perf_counter() - began
    measured = result.reports["check"]
    rows = [
        [
            (
                f"{len(data) / 1e6:.1f} MB of STEP, {len(read.solids)} solids with names, s beside the kernel's "
                f"bare {bare:.2f} s"
            ),
            f"{ours:.2f} ({ours / bare:.2f} times)",
            "2 times",
            verdict(whole == RINGS and ours < 2 * bare),
        ],
        ["the same as a step, checked, named and meshed, s", f"{first - measured.seconds:.2f}", "", ""],
        [
            "clearance of a path through them, s",
            f"{measured.seconds:.2f}",
            "1",
            verdict(measured.state == "fresh" and measured.seconds < 1),
        ],
    ]
    return table("Bodies from files (best of three)", ["what", "reached", "target", ""], rows)
