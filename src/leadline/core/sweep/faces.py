"""Faces of a sweep by name, before any kernel: the planes of those that are flat."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from leadline.core.geometry.edges import Edge, line_edge
from leadline.core.geometry.plane import Plane, cross
from leadline.core.geometry.section import Region
from leadline.core.sweep.motion import Motion


def said_by(name: str) -> tuple[str, list[str]]:
    """What the name of a face says after its step: "cap" and its end, "side" and its edge and piece; of any other name,
    what its parts are.
    """
    kind, *rest = name.split("/")[1:] or [""]
    return kind, rest


def flat_face(motion: Motion, regions: Sequence[Region], name: str) -> Plane | None:
    """The plane of a face named ``step/cap/start|end`` or ``step/side/<edge>/<piece>``, its normal outward.

    None when there is no such face or it is not flat: a side is flat where a straight edge of the section
    rides a straight piece without twist.
    """
    kind, rest = said_by(name)
    if kind == "cap" and not motion.path.closed and rest in (["start"], ["end"]):
        at_end = rest == ["end"]
        f = motion.ends.at_index(int(at_end))
        if f.is_point(np.vstack([e.control for r in regions for e in r.outer.edges])):
            return None
        plane = f.plane(0)
        return plane if at_end else Plane(plane.origin, plane.y, plane.x)
    if kind != "side" or len(rest) != 2:
        return None
    edges = [e for r in regions for loop in r.loops for e in loop.edges if e.origin == rest[0] and e.straight]
    pieces = [
        i
        for i, p in enumerate(motion.path.pieces)
        if (p.origin or str(i)) == rest[1] and p.kind == "line" and motion.exact(i)
    ]
    if not edges or not pieces:
        return None
    start = float(motion.path.starts[pieces[0]])
    f = motion.frames_on(pieces[0], np.array([start]))
    (x, y), d = edges[0].start, edges[0].end - edges[0].start
    across = d[0] * f.X[0] + d[1] * f.Y[0]
    across = across / np.linalg.norm(across)
    return Plane(f.C[0] + x * f.X[0] + y * f.Y[0], across, cross(cross(across, f.T[0]), across))


def flat_faces(motion: Motion, regions: Sequence[Region], owner: str) -> dict[str, Plane]:
    """The planes of all flat faces of the sweep of a step, by their names."""
    sides = [
        f"{owner}/side/{e.origin}/{p.origin or i}"
        for r in regions
        for loop in r.loops
        for e in loop.edges
        for i, p in enumerate(motion.path.pieces)
    ]
    planes = {
        name: flat_face(motion, regions, name)
        for name in [f"{owner}/cap/start", f"{owner}/cap/end", *dict.fromkeys(sides)]
    }
    return {name: plane for name, plane in planes.items() if plane is not None}


def face_outline(motion: Motion, regions: Sequence[Region], name: str) -> tuple[Plane, list[list[Edge]]] | None:
    """A flat face's plane and its outline in that plane; None as for ``flat_face``."""
    plane = flat_face(motion, regions, name)
    if plane is None:
        return None
    kind, rest = said_by(name)
    if kind == "cap":
        at_end = rest == ["end"]
        f = motion.ends.at_index(int(at_end))
        seen = np.eye(2) if at_end else np.eye(2)[::-1]  # from outside
        return plane, [
            [f.outline(e).mapped(seen, np.zeros(2)) for e in loop.edges] for r in regions for loop in r.loops
        ]
    edge = next(e for r in regions for loop in r.loops for e in loop.edges if e.origin == rest[0] and e.straight)
    i = next(i for i, p in enumerate(motion.path.pieces) if (p.origin or str(i)) == rest[1] and p.kind == "line")
    a, b = float(motion.path.starts[i]), float(motion.path.starts[i + 1])
    ends = motion.frames_on(i, np.array([a, b])).at(np.array([edge.start, edge.end]))
    corners = [tuple(p) for p in plane.to_plane(np.array([ends[0, 0], ends[0, 1], ends[1, 1], ends[1, 0]]))]
    return plane, [[line_edge(p, q, rest[0]) for p, q in zip(corners, corners[1:] + corners[:1], strict=True)]]
