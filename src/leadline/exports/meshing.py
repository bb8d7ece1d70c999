"""The triangles of mesh files: those that are shown, or others within a fineness that is asked for; never more than
files may have.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from leadline.core.geometry.mesh import DisplayMesh, Fineness
from leadline.core.problems import Problem, degrees, mm
from leadline.core.solids.mesh_files import NamedMesh, write_glb
from leadline.core.solids.tessellate import STARTED
from leadline.limits import FILE_TRIANGLES
from leadline.recipe.kept_body import KeptBody

STL_HEAD, STL_TRIANGLE = 84, 50  # bytes of a binary STL
# times that a mesh of too many triangles is made half as fine: with so few allowed that this is not enough it is as it
# is shown
COARSENINGS = 20
PACKED_TRIANGLE = 16  # bytes of a 3MF for each triangle, more or less, once it is compressed


@dataclass(frozen=True)
class Meshing:
    """How many ``triangles`` mesh files would have, every copy counted, and their ``sizes`` in bytes by the ending of
    their files, that of a 3MF roughly.
    """

    triangles: int
    sizes: dict[str, int]


def fineness_of(chord: float | None, angle: float | None) -> Fineness | None:
    """A fineness of ``chord`` mm and ``angle`` degrees, that which is not given as bodies are displayed; none if
    neither is.
    """
    if chord is None and angle is None:
        return None
    return Fineness(STARTED.chord if chord is None else chord, STARTED.angle if angle is None else math.radians(angle))


def meshes(bodies: Sequence[KeptBody], colours: Mapping[str, str], fineness: Fineness | None) -> list[NamedMesh]:
    """The meshes of bodies within a ``fineness``; without one as they are shown, coarser where all of them would be too
    many.

    Raises Problem when they are too many.
    """
    made, left = [], FILE_TRIANGLES
    shown = sum(len(b.shown().triangles) * b.count for b in bodies) if fineness is None else 0
    for body in bodies:
        mesh = _shown(body, shown) if fineness is None else _fine(body, fineness, left)
        left -= len(mesh.triangles) * body.count
        if left < 0:
            raise _too_many(FILE_TRIANGLES - left, fineness)
        made.append(NamedMesh(body.name, mesh, body.places, colours.get(body.step, body.colour)))
    return made


def meshing(bodies: Sequence[KeptBody], fineness: Fineness | None) -> Meshing:
    """What mesh files of bodies would be. Raises Problem when they are too many triangles."""
    made = meshes(bodies, {}, fineness)
    triangles = sum(len(m.mesh.triangles) * b.count for m, b in zip(made, bodies, strict=True))
    packed = PACKED_TRIANGLE * sum(len(m.mesh.triangles) for m in made)
    return Meshing(triangles, {"stl": STL_HEAD + STL_TRIANGLE * triangles, "glb": len(write_glb(made)), "3mf": packed})


def finest(body: KeptBody, fineness: Fineness, most: int = FILE_TRIANGLES) -> DisplayMesh:
    """A body's mesh within a fineness, or as near to that as so many triangles suffice for, its copies' counted; never
    coarser than it is shown with so many.
    """
    own = body.at_most(most // body.count)
    for k in range(COARSENINGS):
        made = body.within(Fineness(2**k * fineness.chord, 2 ** (k / 2) * fineness.angle), most // body.count)
        if not isinstance(made, int):
            return made if len(made.triangles) > len(own.triangles) else own
    return own


def _shown(body: KeptBody, every: int) -> DisplayMesh:
    """As it is shown, or with its share of what files may have where all bodies together are shown with more, ``every``
    triangles with all copies counted.
    """
    own = body.shown()
    return own if every <= FILE_TRIANGLES else body.at_most(len(own.triangles) * FILE_TRIANGLES // every)


def _fine(body: KeptBody, fineness: Fineness, left: int) -> DisplayMesh:
    mesh = body.within(fineness, left // body.count)
    if isinstance(mesh, int):
        raise _too_many(mesh * body.count + FILE_TRIANGLES - left, fineness)
    return mesh


def _too_many(count: int, fineness: Fineness | None) -> Problem:
    if fineness is None:
        return Problem(
            "too-many-triangles",
            f"These bodies have {count:,} triangles, more than the {FILE_TRIANGLES:,} that files may have.",
            "Save fewer bodies: switch some off.",
        )
    way_out = (
        f"Take a larger chord, e.g. {mm(fineness.chord * max(2.0, 1.2 * count / FILE_TRIANGLES), 2)}, and a "
        "larger angle."
    )
    text = (
        f"With a chord of {mm(fineness.chord)} and an angle of {degrees(fineness.angle)} these bodies have at "
        f"least {count:,} triangles, more than the {FILE_TRIANGLES:,} that files may have."
    )
    return Problem("too-many-triangles", text, way_out, field="chord")
