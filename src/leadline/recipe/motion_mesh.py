"""The mesh of a body that is just what a motion sweeps: the motion's own, in place of one that the kernel makes of its
faces.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Protocol

import numpy as np

from leadline.core.geometry.mesh import MOST_TRIANGLES, DisplayMesh, Fineness
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Region
from leadline.core.solids.body import Body
from leadline.core.solids.tessellate import edge_lines
from leadline.core.sweep.cut_mesh import cut_mesh
from leadline.core.sweep.grid import display_mesh, fine_mesh
from leadline.core.sweep.mass import thickness
from leadline.core.sweep.motion import Motion

CHORD_SHARE = 1 / 600
COARSEST = 0.05
WALL_SHARE = 1 / 40  # of the thickness, which of a plate or a tube is twice its area by its girth


class Carried(Protocol):
    """Sections (``regions``) carried along a path, ``extent`` mm wide and high."""

    @property
    def motion(self) -> Motion: ...
    @property
    def regions(self) -> Sequence[Region]: ...
    @property
    def extent(self) -> tuple[float, float]: ...


def chord_for(plan: Carried) -> float:
    """Display fineness in mm: about forty chords round a circular section, and a small share of a wall."""
    coarse = min(max(plan.extent) * CHORD_SHARE, COARSEST)
    thick = min((thickness(plan.motion, r) for r in plan.regions if not r.sheet), default=np.inf)
    return float(min(coarse, thick * WALL_SHARE))


@dataclass(frozen=True)
class MotionMesh:
    """How a body's mesh is made of its plan: by the number of its region, and the planes, each with the name of the
    face that it makes, that cut it.

    A plane's normal points to what stays. Whoever takes the body from the store makes the same mesh, so that what is
    measured on it is the same.
    """

    plan: Carried
    region: int
    cuts: tuple[tuple[Plane, str], ...] = ()

    def made(self, body: Body, most: int | None = None) -> DisplayMesh | None:
        """As fine as it is displayed, or coarser where that would take more than about ``most`` triangles.

        None where the kernel has to make it, as the cut edges do not close.
        """
        most = MOST_TRIANGLES // len(self.plan.regions) if most is None else most
        return self._cut(
            display_mesh(self.plan.motion, [self.plan.regions[self.region]], chord_for(self.plan), _owner(body), most),
            body,
        )

    def within(self, body: Body, fineness: Fineness, most: int) -> DisplayMesh | int | None:
        """Within a fineness; how many triangles that takes before it is cut, where these are more than ``most``.

        None where the kernel has to make it.
        """
        whole = fine_mesh(self.plan.motion, [self.plan.regions[self.region]], fineness, _owner(body), most)
        return whole if isinstance(whole, int) else self._cut(whole, body)

    def _cut(self, whole: DisplayMesh, body: Body) -> DisplayMesh | None:
        if not self.cuts:
            return whole
        cut = cut_mesh(whole, self.cuts)
        return None if cut is None else replace(cut, lines=edge_lines(body))

    def stored(self) -> list[Any]:
        """As JSON, without the plan."""
        return [self.region, [[p.origin.tolist(), p.x.tolist(), p.y.tolist(), name] for p, name in self.cuts]]

    @classmethod
    def restored(cls, plan: Carried, stored: list[Any]) -> MotionMesh:
        region, cuts = stored
        return cls(plan, region, tuple((Plane(*(np.array(v) for v in frame)), name) for *frame, name in cuts))


def _owner(body: Body) -> str:
    """The step that its faces are named after."""
    return body.face_names[0].split("/")[0]
