"""A body in the state after a step, with the meshes by which it is shown, drawn and saved."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from leadline.core.geometry.hidden_lines import Drawable
from leadline.core.geometry.mesh import MOST_TRIANGLES, DisplayMesh, Fineness, repeated
from leadline.core.geometry.mesh_booleans import Operation
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array
from leadline.core.solids.body import Body, at_places, corners_of
from leadline.core.solids.tessellate import displayed, fine_mesh, no_more_than
from leadline.recipe.motion_mesh import MotionMesh


@dataclass(frozen=True)
class MeshFacts:
    """Of a mesh by which a body is shown: the lowest and the highest corner of its ``box``, each (3,), its number of
    ``triangles``, and how far the surface is off them at most (mm).
    """

    box: tuple[Array, Array]
    triangles: int = 0
    chord: float = 0.0


@dataclass
class KeptBody:
    """A body in the state after a step. ``key`` changes when, and only when, its geometry may have.

    With ``raised`` areas, each a body that was added to it or cut from it, ``plain`` is the body without them.

    ``colour`` is that ("#rrggbb") which it has in the file that it comes from.

    With ``places`` it stands for as many copies; ``shape_key`` is then the key of the body that they are copies of.

    Its ``mesh`` is that of its ``source``, if it has one, else the kernel's, and made when it is first asked for.
    ``told`` is what is known of the mesh of one that was taken from the store.
    """

    key: str
    name: str
    step: str
    body: Body
    mesh: DisplayMesh | None = None
    places: Placements | None = None
    shape_key: str = ""
    colour: str | None = None
    plain: Body | None = None
    raised: tuple[tuple[Body, Operation], ...] = ()
    source: MotionMesh | None = None
    told: MeshFacts | None = None

    def changed(self, key: str, body: Body) -> KeptBody:
        """The same body in another form."""
        return replace(self, key=key, body=body, mesh=None, shape_key="", plain=None, raised=(), source=None, told=None)

    def shown(self) -> DisplayMesh:
        """The mesh by which it is shown and measured."""
        if self.mesh is not None:
            return self.mesh
        if self.body.drawn is None and self.source is not None:
            self.body.drawn = self.source.made(self.body)  # kept with the body, as others may stand for the same one
        return displayed(self.body) if self.body.drawn is None else self.body.drawn

    def drawable(self) -> Drawable:
        """What a drawing has of it: the mesh that it is shown by where each of its copies is, coarser where these are
        many.
        """
        mesh = self.at_most(MOST_TRIANGLES // self.count)
        return Drawable(mesh if self.places is None else repeated(mesh, self.places), not self.body.sheet)

    def at_most(self, most: int) -> DisplayMesh:
        """The mesh that it is shown by, coarser where that has more than about ``most`` triangles; one that is a mesh
        alone stays as it is.
        """
        mesh = self.shown()
        if len(mesh.triangles) <= most or self.only_mesh:
            return mesh
        most = max(1, most)
        made = None if self.source is None else self.source.made(self.body, most)
        return no_more_than(self.body, most) if made is None else made

    def within(self, fineness: Fineness, most: int) -> DisplayMesh | int:
        """Its mesh within a fineness; how many triangles it would at least have, where these are more than ``most``.

        One that is a mesh alone stays as it is.
        """
        if self.only_mesh:
            return self.shown()
        made = None if self.source is None else self.source.within(self.body, fineness, most)
        return fine_mesh(self.body, fineness, most) if made is None else made

    def each(self) -> list[Body]:
        """All that it stands for, each as a body of its own."""
        return [self.body] if self.places is None else at_places([self.body], self.places)

    @property
    def only_mesh(self) -> bool:
        """It has no exact shape: it is there to be seen and measured to."""
        return self.mesh is not None and not self.body.face_names

    @property
    def count(self) -> int:
        """How many it stands for."""
        return 1 if self.places is None else len(self.places)

    @property
    def mesh_facts(self) -> MeshFacts:
        """What the mesh is by which one of it is shown."""
        if self.told is not None:
            return self.told
        mesh = self.shown()
        return MeshFacts(self.own_box(), len(mesh.triangles), float(mesh.off.max(initial=0.0)))

    @property
    def mesh_key(self) -> str:
        """The key under which its mesh is kept."""
        return self.shape_key or self.key

    def own_box(self) -> tuple[Array, Array]:
        """The lowest and the highest corner of a box about the body itself, each (3,)."""
        if self.told is not None:
            return self.told.box
        points = self.shown().points
        return (points.min(axis=0), points.max(axis=0)) if len(points) else self.body.box()

    def box(self) -> tuple[Array, Array]:
        """The lowest and the highest corner of a box about it, and about all that it stands for, each (3,)."""
        low, high = self.own_box()
        if self.places is None:
            return low, high
        everywhere = self.places.turns @ corners_of(low, high).T + self.places.shifts[:, :, None]
        return everywhere.min(axis=(0, 2)), everywhere.max(axis=(0, 2))

    def as_dict(self, most: int | None = None) -> dict[str, Any]:
        """As JSON; ``most`` is how many triangles it is to be shown with."""
        facts = self.mesh_facts
        return {
            "key": self.key,
            "name": self.name,
            "step": self.step,
            "mesh": self.mesh_key,
            "most": most,
            "triangles": facts.triangles,
            "chord": facts.chord,
            "places": None if self.places is None else self.places.packed(),
            "box": [c.tolist() for c in self.box()],
            "colour": self.colour,
        }
