"""Sections that need no sketch, about the origin."""

from __future__ import annotations

import math

from leadline.core.geometry.edges import arc_edges, line_edge
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Problem


def round_section(diameter: float) -> Region:
    """A full circle of one edge name, ``round``. Raises Problem for a size that is not above zero."""
    _above_zero(diameter, "width")
    return Region(Loop(tuple(arc_edges((0, 0), diameter / 2, 0.0, 2 * math.pi, "round"))))


def rectangle_section(width: float, height: float) -> Region:
    """Edges ``below``, ``right``, ``above``, ``left``. Raises Problem for a size that is not above zero."""
    _above_zero(width, "width")
    _above_zero(height, "height")
    w, h = width / 2, height / 2
    corners = [(-w, -h), (w, -h), (w, h), (-w, h)]
    names = ("below", "right", "above", "left")
    pairs = zip(corners, corners[1:] + corners[:1], names, strict=True)
    return Region(Loop(tuple(line_edge(a, b, name) for a, b, name in pairs)))


def slot_section(width: float, height: float) -> Region:
    """Two half circles of diameter ``height`` and the lines between them, ``width`` long in all.

    Raises:
        Problem: a size that is not above zero, or a slot that is higher than wide.
    """
    _above_zero(height, "height")
    if width <= height:
        raise Problem(
            "bad-size", f"A slot of {width:.4g} x {height:.4g} mm is not wider than high.", "Give a larger width, or turn it.",
            field="width",
        )  # fmt: skip
    r, m = height / 2, (width - height) / 2
    quarter = math.pi / 2
    return Region(Loop((
        line_edge((-m, -r), (m, -r), "below"), *arc_edges((m, 0), r, -quarter, math.pi, "right"),
        line_edge((m, r), (-m, r), "above"), *arc_edges((-m, 0), r, quarter, math.pi, "left"),
    )))  # fmt: skip


def _above_zero(size: float, field: str) -> None:
    if size <= 0:
        raise Problem("bad-size", f"The section's {field} is not above zero.", "Give a size above zero.", field=field)
