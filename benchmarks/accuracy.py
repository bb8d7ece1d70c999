"""Swept volumes against closed forms, and what a bent tube's STEP file holds."""

from __future__ import annotations

import math
import re
import tempfile
from pathlib import Path

from benchmarks.timing import table, verdict
from leadline.core.geometry.walls import hollow
from leadline.core.solids.step_file import Placed, write_step
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.motion import Motion
from tests.support.shapes import arc, bent, box, disc, helix, planar_spline, straight

TARGET = 1e-6


def report() -> str:
    spline = planar_spline()
    cases = [
        ("straight, round", straight(100), disc(5), 0.0, math.pi * 25 * 100),
        ("arc, round", arc(40), disc(5), 0.0, math.pi * 25 * 40 * math.pi / 2),
        ("helix, round", helix(3), disc(5), 0.0, math.pi * 25 * 3 * math.hypot(60 * math.pi, 15)),
        ("planar spline, round (Pappus)", spline, disc(5), 0.0, math.pi * 25 * spline.length),
        ("twisted square bar, 3 turns", straight(100), box(10, 10), 3.0, 100 * 100.0),
    ]
    rows = []
    for name, path, region, turns, exact in cases:
        (body,) = sweep_bodies(Motion(path, turns), [region], "s", "Body")
        error = abs(body.volume() / exact - 1)
        rows.append([name, f"{error:.1e}", f"{TARGET:.0e}", verdict(error < TARGET)])
    surfaces = tube_surfaces()
    only = {"PLANE", "CYLINDRICAL_SURFACE", "TOROIDAL_SURFACE"}
    rows.append(
        [
            "STEP of a bent round tube holds",
            ", ".join(sorted(surfaces)).lower(),
            "plane, cylinder, torus",
            verdict(surfaces <= only),
        ]
    )
    return table(
        "Volume against closed form (relative error of the kernel's solid)", ["sweep", "reached", "target", ""], rows
    )


def tube_surfaces() -> set[str]:
    (tube,) = sweep_bodies(Motion(bent()), [hollow(disc(5), 1)], "tube", "Tube")
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "tube.step"
        write_step([Placed(tube)], file)
        text = file.read_text()
    return set(re.findall(r"=\s*([A-Z_]*SURFACE[A-Z_]*|PLANE)\(", text)) - {"SURFACE_CURVE"}
