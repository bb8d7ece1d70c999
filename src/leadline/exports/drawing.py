"""SVG 1.1: the bodies as they are seen from one side, at full size with hidden lines, cut open at a plane if asked.

Lines as in ISO 128-2: visible ones wide and continuous, hidden ones narrow and dashed; cut faces are hatched at 45°
with narrow lines (ISO 128-3).
"""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.hidden_lines import Drawable
from leadline.core.geometry.plane import Array, Plane, cross, plane_on
from leadline.core.geometry.views import views_of
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.naming import flat_outline
from leadline.core.solids.splitting import box_corners, flat_cutter, split
from leadline.core.solids.tessellate import displayed
from leadline.exports.formats import Look
from leadline.exports.svg import INK, MARGIN, NARROW, box_of, document, drawn_of, lines_of, path_of
from leadline.recipe.results import BuildResult

CUT = "cut"
CHORD = 0.02  # mm by which the outline of a cut face may be off
HATCH = 3.0  # mm between the lines of a hatch
STRAIGHT = 1e-6  # how nearly a cut face has to stand edge-on not to be hatched


def drawing(
    result: BuildResult, look: Look, towards: Array, right: Array, cut: tuple[Array, Array] | None = None
) -> bytes:
    """The bodies seen with ``towards`` the direction (3,) to the eye and ``right`` one (3,) that comes to lie to the
    right.

    A ``cut`` is a point (3,) of a plane and the direction (3,) square to it into what is taken away.

    Raises:
        Problem: there is no body, the directions give no view, there are too many bodies, or nothing is left of them.
    """
    kept = drawn_of(result)
    eye, across = _directions(towards, right)
    plane = None if cut is None else plane_on(cut[0], _unit(cut[1]))
    bodies = [] if plane is None else [piece for one in kept for body in one.each() for piece in _behind(body, plane)]
    if plane is not None and not bodies:
        raise Problem(
            "nothing-left", "The cut takes all bodies away.", "Move the cutting plane, or show its other side."
        )
    drawn = (
        [own.drawable() for own in kept]
        if plane is None
        else [Drawable(displayed(body), not body.sheet) for body in bodies]
    )
    view = views_of(drawn, {"view": (eye, across)})["view"]
    up = cross(eye, across)
    hatched = [] if plane is None or float(plane.normal @ eye) < STRAIGHT else _cut_faces(bodies, across, up)
    low, high = box_of(view)
    group = (
        f'<g transform="translate({MARGIN - low[0]:.4f} {MARGIN + high[1]:.4f})">'
        '<path class="section" fill="url(#hatch)" fill-rule="evenodd" stroke="none" '
        f'd="{path_of(hatched, closed=True)}"/>{lines_of(view)}</g>'
    )
    pattern = (
        f'<defs><pattern id="hatch" width="{HATCH:g}" height="{HATCH:g}" patternUnits="userSpaceOnUse" '
        'patternTransform="rotate(45)">'
        f'<path d="M0 0V{HATCH:g}" stroke="{INK}" stroke-width="{2 * NARROW:g}"/></pattern></defs>'
    )
    size = high - low + 2 * MARGIN
    return document(look.title, float(size[0]), float(size[1]), pattern + group)


def _directions(towards: Array, right: Array) -> tuple[Array, Array]:
    """Both as unit vectors square to each other. Raises Problem."""
    eye = _unit(towards)
    across = right - eye * float(right @ eye)
    return eye, _unit(across)


def _unit(vector: Array) -> Array:
    size = float(np.linalg.norm(vector))
    if not np.isfinite(size) or size < STRAIGHT:
        raise Problem(
            "no-direction", "A direction of the view has no size.", "Give it one, e.g. 0, -1, 0.", field="view"
        )
    return np.asarray(vector / size)


def _behind(body: Body, plane: Plane) -> list[Body]:
    """What is left of a body behind a plane; surfaces without thickness are not cut."""
    heights = plane.height(box_corners(body))
    if heights.min() >= 0:
        return []
    if heights.max() <= 0 or body.sheet:
        return [body]
    try:
        return [p.body for p in split(body, flat_cutter(plane, box_corners(body), CUT)) if p.side < 0]
    except Problem as problem:
        if problem.message.code != "does-not-split":
            raise
        return [body] if float(plane.height(np.array(body.centre()))) < 0 else []


def _cut_faces(bodies: list[Body], right: Array, up: Array) -> list[Array]:
    """The outlines (n, 2) of all cut faces as they are seen."""
    found = []
    for body in bodies:
        for name in dict.fromkeys(n for n in body.face_names if n == CUT or n.endswith(f"/{CUT}")):
            flat = flat_outline(body, name)
            if flat is None:
                continue
            plane, loops = flat
            for loop in loops:
                points = plane.to_space(np.vstack([e.point(e.samples(CHORD)[:-1]) for e in loop]))
                found.append(np.column_stack([points @ right, points @ up]))
    return found
