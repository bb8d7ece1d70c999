"""How compact what is built is: control points along sweeps, STEP files, meshes and drawings."""

from __future__ import annotations

import math
import time
from typing import Any

import numpy as np
from scipy.interpolate import make_interp_spline, make_lsq_spline
from scipy.optimize import minimize

from benchmarks.timing import table, verdict
from leadline.core.geometry.hidden_lines import lines_seen
from leadline.core.geometry.plane import Array
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import SplinePiece
from leadline.core.sweep.motion import DEFAULT_TOLERANCE, Motion
from leadline.exports.formats import Look, export, formats, saved_by
from leadline.exports.svg import VIEWS
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import read_part
from tests.support.kernel_views import kernel_lines, share_elsewhere
from tests.support.parts import DEMO, XY, circle, part, sketch
from tests.support.shapes import Z, helix, space_spline, spiral

EXTENT = 6.0  # mm that the sections of the paths reach
SEEN = 200  # stations of a stretch at which a fit is looked at
LARGEST, MOST_FACES = 6.0, 200  # MB of any demo part, faces of the long way
TWICE = 1.5  # times the control points of the least
SMALL = (
    "twisted-ring",
    "funnel-hood",
    "pipe-clip",
    "kick-rail",
    "handle-bar",
    "wave-flange",
    "pump-grip",
    "pipe-clip-core",
    "hexagon-bar",
    "valve-spring",
    "drain-plug",
    "frost-bar",
    "float-spring",
    "sensor-ribbon",
    "suction-riser",
    "tether-rings",
    "silt-auger",
)


def report() -> str:
    return "\n".join([_control_points(), _step_files(), _many_turns(), _drawings()])


# -- control points ------------------------------------------------------------------------------------


def _paths() -> dict[str, Path]:
    rng = np.random.default_rng(17)
    found = {
        "helix": helix(1, 30, 12),
        "steep helix": helix(1, 8, 60),
        "spiral": spiral(),
        "through five points": space_spline(),
    }
    for k in range(16):
        points = np.cumsum(rng.uniform(10, 60, (5 + k % 4, 1)) * rng.uniform(-0.4, 1, (5 + k % 4, 3)), axis=0)
        found[f"random {k + 1}"] = Path(
            [
                SplinePiece(
                    make_interp_spline(
                        np.arange(len(points)), points, k=5 if k % 2 and len(points) > 5 else 3, bc_type=None
                    )
                )
            ],
            up=Z,
        )
    return found


def _control_points() -> str:
    ratios, worst = [], 0.0
    for path in _paths().values():
        motion = Motion(path)
        spans = motion.spans(EXTENT)
        span = spans[len(spans) // 2]
        assert span.spline is not None
        s = np.linspace(span.start, span.end, SEEN)
        exact = motion.carriers(span.piece, s)
        worst = max(worst, float(_off(span.spline(s) - exact).max()))
        ratios.append(len(span.spline.c) / _least(s, exact, np.unique(span.spline.t)))
    rows = [
        ["largest deviation (mm)", f"{worst:.1e}", f"{DEFAULT_TOLERANCE:.0e}", verdict(worst <= DEFAULT_TOLERANCE)],
        [
            "median of control points against the least",
            f"{np.median(ratios):.2f}",
            f"{TWICE}",
            verdict(float(np.median(ratios)) <= TWICE),
        ],
        ["most of them", f"{max(ratios):.2f}", "", ""],
    ]
    return table(
        "Control points along a stretch, against the least that a fit with free knots needs (20 paths)",
        ["what", "reached", "target", ""],
        rows,
    )


def _off(difference: Array) -> Array:
    return np.asarray(
        np.linalg.norm(difference.reshape(len(difference), -1, 3), axis=2) @ np.array([1.0, EXTENT, EXTENT])
    )


def _least(s: Array, exact: Array, knots: Array) -> int:
    """The fewest control points of a quintic of least squares within the tolerance, its knots moved by Powell's method
    from where others are.
    """
    least = len(knots) + 4
    for n in range(len(knots) - 2, 0, -1):
        start = np.interp(np.linspace(0, 1, n + 1), np.linspace(0, 1, len(knots)), knots)
        best = minimize(_worst, np.log(np.diff(start)), (s, exact), method="Powell", options={"maxfev": 40 * n})
        if math.exp(best.fun) > DEFAULT_TOLERANCE:
            return least
        least = n + 5
    return least


def _worst(widths: Array, s: Array, exact: Array) -> float:
    """The logarithm of the largest deviation of the fit whose knots are so far apart (logarithms)."""
    shares = np.exp(widths - widths.max())
    inner = s[0] + (s[-1] - s[0]) * np.cumsum(shares)[:-1] / shares.sum()
    try:
        fit = make_lsq_spline(s, exact, np.concatenate([[s[0]] * 6, inner, [s[-1]] * 6]), 5)
    except (ValueError, np.linalg.LinAlgError):
        return 10.0
    return math.log(float(_off(fit(s) - exact).max()) + 1e-12)


# -- files ----------------------------------------------------------------------------------------------


def _step_files() -> str:
    rows, largest = [], ("", 0.0)
    for file in sorted(DEMO.glob("*.json")):
        result = build(read_part(file.read_bytes()), Memory())
        began = time.perf_counter()
        size = len(export(result, "step")) / 1e6
        seconds = time.perf_counter() - began
        largest = max(largest, (file.stem, size), key=lambda one: one[1])
        if file.stem in ("frost-coil", "bent-relief-spring-long-way"):
            faces = sum(len(k.body.face_names) for k in result.bodies)
            wanted = faces <= MOST_FACES and size <= 2 if file.stem != "frost-coil" else size <= LARGEST
            rows.append([file.stem, f"{size:.2f}", f"{faces}", f"{seconds:.1f}", verdict(wanted)])
    rows.append([f"largest of all: {largest[0]}", f"{largest[1]:.2f}", "", "", verdict(largest[1] <= LARGEST)])
    return table("STEP files of the demo parts", ["part", "MB", "faces", "seconds to save", ""], rows)


def _spring(turns: int) -> Any:
    way = {
        "kind": "helix",
        "id": "way",
        "name": "Way",
        "plane": XY,
        "radius": 20,
        "pitch": 6,
        "turns": turns,
        "height": None,
    }
    wire = {
        "kind": "sweep",
        "id": "wire",
        "name": "Wire",
        "path": {"step": "way"},
        "profile": {"quick": "round", "width": 3},
    }
    return part({"format": "leadline-part", "version": 1, "name": "Spring", "units": "mm", "steps": [way, wire]})


def _rings(count: int) -> Any:
    ring = {
        "kind": "sweep",
        "id": "ring",
        "name": "Ring",
        "path": {"step": "round"},
        "profile": {"quick": "round", "width": 1},
    }
    rows = {
        "kind": "arranged",
        "id": "rows",
        "name": "Rows",
        "source": "ring",
        "plane": XY,
        "how": {"by": "rows", "count": count // 25, "spacing": 12, "count_y": 25, "spacing_y": 12},
    }
    return part(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Rings",
            "units": "mm",
            "steps": [sketch("round", XY, circle(4)), ring, rows],
        }
    )


def _many_turns() -> str:
    rows = []
    result = build(_spring(200), Memory())
    sizes, seconds = 0.0, 0.0
    for name, form in formats().items():
        if saved_by(form, result):
            began = time.perf_counter()
            size = len(export(result, name, Look())) / 1e6
            took = time.perf_counter() - began
            rows.append(
                [f"spring of 200 turns: {name}", f"{size:.2f}", f"{took:.1f}", verdict(name != "svg" or took <= 3)]
            )
            sizes, seconds = sizes + size, seconds + took
    rows.append(["all of them", f"{sizes:.1f}", f"{seconds:.1f}", verdict(sizes <= 40 and seconds <= 10)])
    rings = build(_rings(1000), Memory())
    began = time.perf_counter()
    size = len(export(rings, "svg", Look())) / 1e6
    took = time.perf_counter() - began
    rows.append(["1,000 rings: svg", f"{size:.2f}", f"{took:.1f}", verdict(took <= 5)])
    return table("Files of heavy parts", ["what", "MB", "s", ""], rows)


def _drawings() -> str:
    """Own hidden lines beside the kernel's: by the share of each one's visible length that is not near the other's."""
    shares, own, theirs = [], 0.0, 0.0
    for name in SMALL:
        result = build(read_part((DEMO / f"{name}.json").read_bytes()), Memory())
        kept = [k for k in result.bodies if not k.only_mesh]
        drawn, bodies = [k.drawable() for k in kept], [b for k in kept for b in k.each()]
        size = float(np.linalg.norm(np.ptp(np.vstack([d.mesh.points for d in drawn]), axis=0)))
        for eye in (VIEWS["front"], VIEWS["corner"]):
            began = time.perf_counter()
            lines = lines_seen(drawn, *eye)
            own += time.perf_counter() - began
            began = time.perf_counter()
            visible, _ = kernel_lines(bodies, *eye, 5e-4 * size, 0.2)
            theirs += time.perf_counter() - began
            shares.append(
                max(share_elsewhere(lines.visible, visible, size), share_elsewhere(visible, lines.visible, size))
            )
    rows = [
        [
            "median of the visible length that only one of them has",
            f"{np.median(shares):.2%}",
            "0.5 %",
            verdict(float(np.median(shares)) <= 0.005),
        ],
        [f"views of {len(shares)} in which it is at most 0.5 %", str(sum(s <= 0.005 for s in shares)), "", ""],
        ["time, against the kernel's with its meshes", f"{own / theirs:.2f}", "", ""],
    ]
    return table(
        f"Hidden lines beside the kernel's ({len(SMALL)} parts, from the front and from a corner)",
        ["what", "reached", "target", ""],
        rows,
    )
