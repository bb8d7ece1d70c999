"""SVG 1.1: the bodies seen from the front, from above, from the left and from a corner, at full size with hidden lines.

The views stand as ISO 5456-2 has them in first angle projection: what is seen from above below the front, what is seen
from the left to its right. Visible lines are wide and continuous, hidden ones narrow and dashed (ISO 128-2).
"""

from __future__ import annotations

from xml.sax.saxutils import escape

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.geometry.views import View, views_of
from leadline.core.problems import Problem
from leadline.exports.formats import Format, Look, nothing_to_save
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.results import BuildResult

MOST = 2000  # bodies, copies each by itself
MARGIN = 10.0  # mm about and between the views
WIDE, NARROW = 0.35, 0.18
INK = "#1e2b38"
CORNER = np.array([-0.55, -0.72, 0.42]) / np.linalg.norm([-0.55, -0.72, 0.42])
VIEWS: dict[str, tuple[Array, Array]] = {  # towards the eye, to the right
    "front": (np.array([0.0, -1, 0]), np.array([1.0, 0, 0])),
    "left": (np.array([-1.0, 0, 0]), np.array([0.0, -1, 0])),
    "top": (np.array([0.0, 0, 1]), np.array([1.0, 0, 0])),
    "corner": (CORNER, np.cross([0.0, 0, 1], CORNER) / np.linalg.norm(np.cross([0.0, 0, 1], CORNER))),
}


def write(result: BuildResult, look: Look) -> bytes:
    """Raises Problem when there are too many bodies to be drawn."""
    views = views_of([kept.drawable() for kept in drawn_of(result)], VIEWS)
    boxes = {name: box_of(view) for name, view in views.items()}
    across = {
        column: max(boxes[a][1][0] - boxes[a][0][0] for a in column)
        for column in (("front", "top"), ("left", "corner"))
    }
    down = {row: max(boxes[a][1][1] - boxes[a][0][1] for a in row) for row in (("front", "left"), ("top", "corner"))}
    width = sum(across.values()) + 3 * MARGIN
    height = sum(down.values()) + 3 * MARGIN
    drawn = []
    for name, view in views.items():
        left = MARGIN if name in ("front", "top") else 2 * MARGIN + across["front", "top"]
        low = MARGIN + down["front", "left"] if name in ("front", "left") else 2 * MARGIN + sum(down.values())
        drawn.append(_group(name, view, left - boxes[name][0][0], low + boxes[name][0][1]))
    return document(look.title, width, height, "".join(drawn))


def drawn_of(result: BuildResult) -> list[KeptBody]:
    """Every body that is more than a mesh.

    Raises Problem when there is none, or with their copies too many to be drawn.
    """
    exact = [k for k in result.bodies if not k.only_mesh]
    if not exact:
        raise nothing_to_save()
    count = sum(k.count for k in exact)
    if count > MOST:
        raise Problem(
            "too-many-copies",
            f"These are {count} bodies, too many to be drawn one by one.",
            f"Draw at most {MOST}: switch some off.",
        )
    return exact


def document(title: str, width: float, height: float, drawn: str) -> bytes:
    """A drawing of that size, mm."""
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" version="1.1" width="{width:.4f}mm" height="{height:.4f}mm" '
        f'viewBox="0 0 {width:.4f} {height:.4f}">'
    )
    return f"{head}<title>{escape(title)}</title>{drawn}</svg>\n".encode()


def box_of(view: View) -> tuple[Array, Array]:
    points = np.vstack([*view.visible, *view.hidden, np.zeros((0, 2))])
    return (points.min(axis=0), points.max(axis=0)) if len(points) else (np.zeros(2), np.zeros(2))


def _group(name: str, view: View, right: float, down: float) -> str:
    """A view moved to its place."""
    return f'<g id="{name}" transform="translate({right:.4f} {down:.4f})">{lines_of(view)}</g>'


def lines_of(view: View) -> str:
    """The hidden and the visible lines of a view; y grows downward in the file."""
    dashes = f'stroke-dasharray="{4 * NARROW * 3:g} {NARROW * 3:g}"'
    pen = f'fill="none" stroke="{INK}" stroke-linecap="round" stroke-linejoin="round"'
    return (
        f'<path class="hidden" {pen} stroke-width="{NARROW}" {dashes} d="{path_of(view.hidden)}"/>'
        f'<path class="visible" {pen} stroke-width="{WIDE}" d="{path_of(view.visible)}"/>'
    )


def path_of(lines: list[Array], closed: bool = False) -> str:
    return "".join("M" + "L".join(f"{x:.4f} {-y:.4f}" for x, y in line) + ("Z" if closed else "") for line in lines)


FORMAT = Format("SVG", "Four views at full size, with hidden lines", "image/svg+xml", write)
