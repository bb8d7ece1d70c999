"""What steps give to others: capabilities, and the products that have them.

A step asks a product for a capability, never for the kind of step that gave it: whatever has faces can be drawn on,
whatever has a path can be followed.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, fields, replace
from typing import TypeVar

from leadline.core.geometry.dimensions import Dimension
from leadline.core.geometry.edges import Edge
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.moved import moved_path
from leadline.core.paths.path import Path, path_from_sketch
from leadline.core.problems import Message
from leadline.core.sketch.outline import regions, sheets
from leadline.core.sketch.solver import Solution
from leadline.core.solids.body import Body
from leadline.core.solids.naming import edge_strands, face_strands, flat_outline, flat_plane
from leadline.core.surfaces.sheet import Sheet, sheets_of
from leadline.core.sweep.borders import Strand, face_border, named_edges
from leadline.core.sweep.faces import face_outline, flat_face, flat_faces
from leadline.core.sweep.motion import Motion
from leadline.core.trades.spring_numbers import SpringNumbers
from leadline.core.trades.thread_told import ThreadTold
from leadline.core.trades.tube_told import TubeTold
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.shown import SweptResult

C = TypeVar("C")


# -- capabilities -----------------------------------------------------------------------------------
#
# A product that has one inherits it and says how, in place of what raises NotImplementedError here. A room that needs
# what no other asks for may ask for a ``typing.runtime_checkable`` protocol of its own.


class HasPlane:
    """It stands for a plane."""

    plane: Plane


class HasPath:
    """It is, or follows, a path."""

    starts: Placements | None
    """Of a path with several starts the moves that take it to each of them, itself included."""

    def follow(self, curves: Sequence[str] | None = None) -> Path:
        """The path; of something drawn that of the named curves alone. Raises Problem."""
        raise NotImplementedError


class HasDrawing:
    """It has curves and points drawn on a plane."""

    plane: Plane
    solution: Solution


class HasProfile:
    """It has closed outlines on a plane."""

    def profile(self, names: Sequence[str] | None, surface: bool) -> tuple[Plane, list[Region]]:
        """The regions of these names, or all of them; for a ``surface`` the bare outlines, open ones too.

        Raises Problem.
        """
        raise NotImplementedError


class HasMotion:
    """It is a section carried along a path, ``extent`` mm wide and high; ``copies`` are its places, if it is made at
    several.

    Planes may have cut off its ends (``trimmed``).
    """

    motion: Motion
    regions: Sequence[Region]
    extent: tuple[float, float]
    copies: Placements | None
    trimmed: bool


class HasSpring:
    """It is a spring."""

    spring: SpringNumbers


class HasTube:
    """It tells how a tube is bent."""

    tube: TubeTold


class HasThread:
    """It is a thread."""

    thread: ThreadTold


class HasDimensions:
    """It knows the sizes that matter on a drawing of it."""

    dimensions: Sequence[Dimension]


class HasFaces:
    """It has named faces."""

    def flat_face(self, name: str) -> Plane | None:
        """The plane of a flat face; None when there is no such face, or it is not flat."""
        raise NotImplementedError

    def flat_faces(self) -> dict[str, Plane]:
        """The planes of all flat faces, by their names."""
        raise NotImplementedError

    def outline(self, name: str) -> tuple[Plane, list[list[Edge]]] | None:
        """A flat face's plane and its outlines there; None when there is no such face, or it is not flat."""
        raise NotImplementedError

    def border(self, name: str) -> list[Strand]:
        """What bounds a face, flat or not; nothing when there is no such face."""
        raise NotImplementedError

    def sides(self, edge: str | None, off: float) -> list[Sheet]:
        """The sides that an edge of the section leaves behind, or all, ``off`` mm outside of where they are."""
        raise NotImplementedError


class HasEdges:
    """It has named edges."""

    def edges(self) -> dict[str, list[Strand]]:
        """The stretches of each edge, by its name."""
        raise NotImplementedError


class HasBodies:
    """Bodies: when ``alone`` only the step's own, else all of the part's after the step."""

    bodies: list[KeptBody]
    alone: bool


class CanMove:
    """It can be carried along to where a copy stands."""

    def moved(self, turn: Array, shift: Array) -> Product:
        """Itself, with each point p at ``turn @ p + shift``; ``turn`` is (3, 3)."""
        raise NotImplementedError


# -- products ---------------------------------------------------------------------------------------


class Product:
    """What a step gives. One that has no capability only measures."""

    def give(self, capability: type[C]) -> C | None:
        """Itself as what has a capability; None when it has not."""
        return self if isinstance(self, capability) else None


def _moved_plane(plane: Plane, turn: Array, shift: Array) -> Plane:
    return Plane(turn @ plane.origin + shift, turn @ plane.x, turn @ plane.y)


@dataclass
class PlaneProduct(Product, HasPlane, CanMove):
    plane: Plane

    def moved(self, turn: Array, shift: Array) -> PlaneProduct:
        return PlaneProduct(_moved_plane(self.plane, turn, shift))


@dataclass
class PathProduct(Product, HasPath, CanMove):
    path: Path
    starts: Placements | None = None

    def follow(self, curves: Sequence[str] | None = None) -> Path:  # noqa: ARG002  # it has no curves to choose from
        return self.path

    def moved(self, turn: Array, shift: Array) -> PathProduct:
        return PathProduct(moved_path(self.path, turn, shift))


@dataclass
class SketchProduct(Product, HasDrawing, HasPath, HasProfile, CanMove):
    """A solved sketch.

    Paths and regions that were once asked for are kept, with what was worked out of them: they are asked for with every
    picture of what is swept from them.
    """

    plane: Plane
    solution: Solution
    starts: None = None
    _paths: dict[tuple[str, ...] | None, Path] = field(default_factory=dict, init=False, repr=False, compare=False)
    _regions: dict[tuple[tuple[str, ...] | None, bool], list[Region]] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )

    def follow(self, curves: Sequence[str] | None = None) -> Path:
        asked = None if curves is None else tuple(curves)
        if asked not in self._paths:
            self._paths[asked] = path_from_sketch(self.solution.sketch, self.plane, curves)
        return self._paths[asked]

    def profile(self, names: Sequence[str] | None, surface: bool) -> tuple[Plane, list[Region]]:
        asked = None if names is None else tuple(names), surface
        if asked not in self._regions:
            find = sheets if surface else regions
            self._regions[asked] = find(self.solution.sketch, names)
        return self.plane, list(self._regions[asked])

    def moved(self, turn: Array, shift: Array) -> SketchProduct:
        return replace(self, plane=_moved_plane(self.plane, turn, shift))


@dataclass
class Swept(Product, HasPath, HasMotion, HasFaces, HasEdges, CanMove):
    """All that is known of a step that carries a section along a path, before the kernel is asked.

    ``owner`` is its step, whose id its faces and edges have in their names. ``extent`` is the size (mm) of the section;
    ``volume`` (mm³) and ``area`` (mm²) are of one of its ``copies``, by quadrature over the motion. ``shown`` has the
    numbers of all of them.
    """

    owner: str
    motion: Motion
    regions: Sequence[Region]
    extent: tuple[float, float]
    volume: float
    area: float
    shown: SweptResult
    figure: str
    messages: list[Message]
    copies: Placements | None = None
    starts: None = None
    trimmed: bool = False

    @property
    def count(self) -> int:
        return 1 if self.copies is None else len(self.copies)

    def follow(self, curves: Sequence[str] | None = None) -> Path:  # noqa: ARG002  # it has no curves to choose from
        return self.motion.path

    def flat_face(self, name: str) -> Plane | None:
        return flat_face(self.motion, self.regions, name)

    def flat_faces(self) -> dict[str, Plane]:
        return flat_faces(self.motion, self.regions, self.owner)

    def outline(self, name: str) -> tuple[Plane, list[list[Edge]]] | None:
        return face_outline(self.motion, self.regions, name)

    def border(self, name: str) -> list[Strand]:
        return face_border(self.motion, self.regions, name)

    def sides(self, edge: str | None, off: float) -> list[Sheet]:
        return sheets_of(self.motion, self.regions, edge, off)

    def edges(self) -> dict[str, list[Strand]]:
        return named_edges(self.motion, self.regions, self.owner)

    def moved(self, turn: Array, shift: Array) -> PathProduct:
        """Its path: what is made along it is all that a copy asks of it."""
        return PathProduct(moved_path(self.motion.path, turn, shift))


@dataclass
class Sprung(Swept, HasSpring, HasDimensions):
    """A spring's wire, with what is told of the spring."""

    spring: SpringNumbers = field(kw_only=True)
    dimensions: Sequence[Dimension] = field(kw_only=True)

    @classmethod
    def of(cls, plan: Swept, spring: SpringNumbers, dimensions: Sequence[Dimension]) -> Sprung:
        return cls(**{f.name: getattr(plan, f.name) for f in fields(Swept)}, spring=spring, dimensions=dimensions)


@dataclass
class TubePlan(Product, HasTube, HasDimensions):
    """What is told of a tube that is bent."""

    tube: TubeTold
    dimensions: Sequence[Dimension]


@dataclass
class ThreadPlan(Product, HasThread, HasDimensions):
    """What is told of a thread."""

    thread: ThreadTold
    dimensions: Sequence[Dimension]


@dataclass
class BodyProduct(Product, HasBodies):
    """Bodies that are built; what was ``planned`` of them, if anything, lends them its capabilities, else what they are
    themselves.

    They are all that there are after the step, or, ``alone``, come to those before it, but for the surfaces without
    thickness of the step that they take the place of (``instead``).
    """

    planned: Product | None
    bodies: list[KeptBody]
    alone: bool
    instead: str | None = None

    def after(self, before: Sequence[KeptBody]) -> list[KeptBody]:
        """All bodies that there are after the step."""
        stay = [b for b in before if b.step != self.instead or not b.body.sheet] if self.alone else []
        return [*stay, *self.bodies]

    def give(self, capability: type[C]) -> C | None:
        own = super().give(capability)
        if own is not None:
            return own
        built = BuiltNames([k.body for k in self.bodies if k.places is None])
        if self.planned is not None:
            known = self.planned.give(capability)
            both = AllEdges(known, built) if isinstance(known, HasEdges) and capability is HasEdges else None
            return both if isinstance(both, capability) else known
        return built if built.bodies and isinstance(built, capability) else None


@dataclass
class BuiltNames(HasFaces, HasEdges):
    """The named faces and edges of bodies that are known by their solids alone."""

    bodies: Sequence[Body]

    def flat_face(self, name: str) -> Plane | None:
        return next((p for b in self._with(name) if (p := flat_plane(b, name)) is not None), None)

    def flat_faces(self) -> dict[str, Plane]:
        planes = {name: flat_plane(body, name) for body in self.bodies for name in dict.fromkeys(body.face_names)}
        return {name: plane for name, plane in planes.items() if plane is not None}

    def outline(self, name: str) -> tuple[Plane, list[list[Edge]]] | None:
        return next((o for b in self._with(name) if (o := flat_outline(b, name)) is not None), None)

    def border(self, name: str) -> list[Strand]:
        return [strand for body in self._with(name) for strand in face_strands(body, name)]

    def sides(self, edge: str | None, off: float) -> list[Sheet]:  # noqa: ARG002
        return []  # they are of no motion, so that none can be offset exactly

    def edges(self) -> dict[str, list[Strand]]:
        return {name: strands for body in self.bodies for name, strands in edge_strands(body).items()}

    def _with(self, name: str) -> list[Body]:
        return [b for b in self.bodies if name in b.face_names]


@dataclass
class AllEdges(HasEdges):
    """The edges of what was planned, and those that it got when it was built and put together with other bodies."""

    planned: HasEdges
    built: HasEdges

    def edges(self) -> dict[str, list[Strand]]:
        return {**self.built.edges(), **self.planned.edges()}


@dataclass
class CopiesPlan(Product):
    """Where a repeat's copies stand, before the kernel is asked."""

    places: Placements


class MeasureProduct(Product):
    """What a step gives that only measures: nothing that others could use."""
