"""Copies along a path: 1,000 interlocked rings, and what their files hold."""

from __future__ import annotations

from typing import Any

from benchmarks.timing import best, table, verdict
from leadline.exports.formats import export
from leadline.recipe.build import Memory, build
from leadline.recipe.results import BuildResult
from tests.support.parts import XZ, YZ, curve, part, sketch
from tests.support.shapes import slot

RINGS, SECONDS, PITCH = 1000, 1.0, 13.0


def report() -> str:
    one, _ = best(lambda: _built(1), 5)
    seconds, result = best(lambda: _built(RINGS), 5)
    copies = result.reports["tether"].data["copies"]
    step, glb = export(result, "step"), export(result, "glb")
    solids, links = step.count(b"MANIFOLD_SOLID_BREP("), step.count(b"NEXT_ASSEMBLY_USAGE_OCCURRENCE(")
    meshes = glb.count(b'"primitives"')
    rows = [
        [
            f"{RINGS} interlocked rings from nothing, clearances included, s",
            f"{seconds:.2f}",
            f"{SECONDS:.0f}",
            verdict(seconds < SECONDS),
        ],
        ["as a ratio to one ring alone", f"{seconds / one:.1f}", "", ""],
        [
            f"solids in their STEP file of {len(step) / 1e6:.1f} MB, with {links} placements",
            str(solids),
            "1",
            verdict(solids == 1 and links == RINGS),
        ],
        [f"meshes in their glTF file of {len(glb) / 1e6:.1f} MB", str(meshes), "1", verdict(meshes == 1)],
        ["least clearance between them, mm", f"{copies['least']:.3f}", "", ""],
    ]
    return table("Copies along a path (best of five)", ["what", "reached", "target", ""], rows)


def _built(rings: int) -> BuildResult:
    length = PITCH * rings
    way = curve((0, 60), (0.35 * length, 130), (0.7 * length, 10), (length, 70))
    repeat: dict[str, Any] = {"spacing": 2 * PITCH, "count": max(1, rings // 2)}
    runs = [{"id": "second", "phase": 0.5, "turn": 90}] if rings > 1 else []
    steps = [
        sketch("ring", XZ, slot(12, 4)),
        {
            "kind": "sweep",
            "id": "link",
            "name": "Link",
            "path": {"step": "ring"},
            "profile": {"quick": "round", "width": 3},
        },
        sketch("way", XZ, way),
        {
            "kind": "repeat",
            "id": "tether",
            "name": "Tether",
            "source": "link",
            "path": {"step": "way"},
            "seat": YZ,
            **repeat,
            "runs": runs,
        },
    ]
    result = build(
        part({"format": "leadline-part", "version": 1, "name": "Tether rings", "units": "mm", "steps": steps}), Memory()
    )
    if result.reports["tether"].state != "fresh":
        raise RuntimeError("the rings do not build")
    return result
