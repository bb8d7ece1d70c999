"""Add, cut and common.

No result of the kernel is trusted: its volume must fit those of both bodies, and a boolean of their meshes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import manifold3d
import numpy as np

from leadline.core.geometry.mesh_booleans import Operation, closed, combined
from leadline.core.problems import Problem
from leadline.core.solids.body import Body, boxes_meet
from leadline.core.solids.booleans import Candidate, first_sound
from leadline.core.solids.kernel import faces, solids
from leadline.core.solids.merging import merged_after
from leadline.core.solids.tessellate import triangulated

ROUNDING = 1e-6  # of a volume, by which the kernel's integration may be off
PLAIN_CLAIM = 1e-3  # of the smaller volume: under it, "nothing in common" or "all of it in common" is claimed
CHORD = 0.01  # of the smaller body's volume to area (a quarter of a rod's diameter), the fineness of the check
ROUGH = 0.1  # the same where only a missing piece is looked for
COARSE = 1e-4  # of a body's own size: no check is finer, so that a large body is not meshed for a tiny tool
MARGIN = 1.2
WORDS = {"add": "Adding to", "cut": "Cutting", "common": "Keeping in common with"}


@dataclass
class Combined:
    """``bodies`` replace the one that was combined; ``touched`` tells whether anything became of it."""

    bodies: list[Body]
    touched: bool


def combine(base: Body, tool: Body, operation: Operation) -> Combined:
    """Add ``tool`` to ``base``, cut it out, or keep what both have in common. Both are one solid each.

    Whether anything happened is told by the faces of the result, never by a share of a volume, so that the
    smallest hole in the largest block is kept.

    Raises:
        Problem: the kernel fails in every way that is tried, or its results break the volume rules that must hold.
    """
    if not boxes_meet(base.box(), tool.box()):
        return Combined([base], False)
    found, why = first_sound(base, tool, operation, lambda candidate: _fault(candidate, base, tool, operation))
    if found is None:
        raise _failed(operation, base, why)
    if operation == "cut" and not found.changed:
        return Combined([base], False)
    pieces = _split(merged_after(found.body, operation == "add"))
    touched = len(pieces) == 1 if operation == "add" else operation == "cut" or len(pieces) > 0
    return Combined(pieces, True) if touched else Combined([base], False)


def _fault(candidate: Candidate, base: Body, tool: Body, operation: Operation) -> str | None:
    """What is wrong with a result, or None.

    The volume that both bodies have in common follows from each operation's result: it cannot be negative nor more
    than the smaller of the two. A mesh boolean must not find more of it, because less is what the kernel gives when it
    has missed a crossing: a fine one where it is about nothing, a rough one else, which sees a whole piece that is
    missing. Where it is about all of the smaller one, a fine mesh boolean must agree.
    """
    result, before, extra = candidate.body, base.volume(), tool.volume()
    empty = not solids(result.shape)
    if empty and operation == "add":
        return "its result is empty"
    if not empty and not result.valid():
        return "its result is not a valid solid"
    after = 0.0 if empty else result.volume()
    common = {"cut": before - after, "add": before + extra - after, "common": after}[operation]
    smaller, slack = min(before, extra), ROUNDING * max(before, extra)
    if not -slack <= common <= smaller + slack:
        return f"its volume is {after:.6g} mm³, where the two have {before:.6g} and {extra:.6g} mm³"
    claim = max(PLAIN_CLAIM * smaller, slack)
    share, told = (CHORD, "nothing") if common <= claim else (ROUGH, "less")
    if not _left_by_meshes(base, tool, "common", common + slack, share):
        return f"its volume is {after:.6g} mm³, as if the two had {told} in common"
    first, second = (tool, base) if extra <= before else (base, tool)
    if common >= smaller - claim and not _left_by_meshes(first, second, "cut", smaller - common + slack):
        return f"its volume is {after:.6g} mm³, as if one lay wholly inside the other"
    return None


def _left_by_meshes(first: Body, second: Body, operation: Operation, said: float, share: float = CHORD) -> bool:
    """Whether by meshes no more is left of a combination than is said, but for slivers as thin as the meshes are
    coarse.

    True as well when a mesh does not close, so that they cannot tell.
    """
    wanted = share * min(b.volume() / b.area() for b in (first, second))
    chords = [max(wanted, COARSE * float(np.linalg.norm(np.subtract(*b.box())))) for b in (first, second)]
    a, b = (_checking_mesh(body, chord) for body, chord in zip((first, second), chords, strict=True))
    if a is None or b is None:
        return True
    left = combined(a, b, operation)
    return bool(left.volume() - said <= MARGIN * max(chords) * left.surface_area())


def _checking_mesh(body: Body, chord: float) -> manifold3d.Manifold | None:
    """The body's mesh at least so fine, kept with it: a base is checked against one tool after the other."""
    step = 2.0 ** math.floor(math.log2(chord))
    if step not in body.checking:
        body.checking[step] = closed(*triangulated(body, step))
    return body.checking[step]


def _failed(operation: Operation, base: Body, why: str) -> Problem:
    return Problem(
        "boolean",
        f"{WORDS[operation]} {base.name} failed: {why}.",
        "Move or resize the profile slightly, so that faces do not just touch, or make it a separate body.",
    )


def _split(body: Body) -> list[Body]:
    """Each solid of a result as a body of its own, numbered when there are several."""
    names = {hash(f): n for f, n in zip(faces(body.shape), body.face_names, strict=True)}
    separate = solids(body.shape)

    def title(i: int) -> str:
        return body.name if len(separate) == 1 else f"{body.name} {i + 1}"

    return [Body(title(i), s, [names[hash(f)] for f in faces(s)]) for i, s in enumerate(separate)]
