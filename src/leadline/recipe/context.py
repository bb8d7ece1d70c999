"""What a step sees while it is built: evaluated values, the products before it, the bodies so far."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, NoReturn, TypeVar

import numpy as np

from leadline.core.expressions import Expression, measured_step
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import PRINCIPAL, Array, Plane, plane_on
from leadline.core.geometry.section import Loop, Region
from leadline.core.marks import PARAMETER
from leadline.core.paths.path import Path
from leadline.core.problems import Problem, degrees, mm
from leadline.core.sketch.model import Line
from leadline.core.sketch.outline import coordinates, nest
from leadline.core.values import Kind, Scope
from leadline.recipe.given import Given, known
from leadline.recipe.inputs import (
    BaseStep,
    EndFace,
    EndPlane,
    FaceRef,
    PathRef,
    PlaneRef,
    PrincipalPlane,
    ProfileRef,
    SeenFace,
)
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import (
    BodyProduct,
    HasDrawing,
    HasEdges,
    HasFaces,
    HasMotion,
    HasPath,
    HasPlane,
    HasProfile,
    Product,
)
from leadline.recipe.titles import face_title

if TYPE_CHECKING:
    from leadline.recipe.part import Part
    from leadline.recipe.results import BuildResult

C = TypeVar("C")
NOT_YET = "not-yet"  # of what a quick build cannot know
T = TypeVar("T")


class Undeclared(Exception):  # noqa: N818
    """A step reads what it has not declared, which is then not in its key either: a fault of its room."""


def _written(value: float, measure: Kind) -> str:
    """A quantity in a message."""
    return mm(value) if measure == "length" else degrees(value) if measure == "angle" else f"{value:g}"


def _called(own: Given, which: str) -> str:
    return f"{own.label} {which}" if which else own.label


class Unseen(list[KeptBody]):
    """The bodies for a step that has not declared that it reads them."""

    def _refuse(self, *_: object) -> NoReturn:
        raise Undeclared("the bodies before the step")

    __iter__ = __len__ = __contains__ = __getitem__ = _refuse  # whatever is asked, it is refused


class Names(dict[str, str]):
    """Names of steps by id.

    ``told`` collects the names that were asked for: a result that tells them is out of date when one of them changes.
    """

    def __init__(self, names: Mapping[str, str]) -> None:
        super().__init__(names)
        self.told: dict[str, str] = {}

    def __getitem__(self, step: str) -> str:
        name = super().__getitem__(step)
        self.told[step] = name
        return name

    def get(self, step: str, default: str = "") -> str:  # type: ignore[override]  # it is always a text
        try:
            return self[step]
        except KeyError:
            return default


def _alone(part: Part, _: dict[str, Product]) -> BuildResult:
    raise Undeclared(f"the part {part.name}")


@dataclass
class Context:
    """``quick`` stops before the kernel: body steps then give their plan only; while something is ``moving``, no more
    of it than can be worked out between two moves of a hand.

    ``reached`` has the ids of the steps up to the one that is built; with none of them the order of the steps is not
    known.

    A step is built in a context of its own, which ``narrowed`` makes: it has the products that the step declares, by
    the references of its fields, and no others. ``hidden`` are the ids of those that there are beside them. ``waiting``
    are those steps of a quick build of which nothing is known before they are built. ``file`` gives what a file holds,
    by its digest; ``build_other`` builds another part, and its dictionary receives what each of its steps gave.
    """

    scope: Scope
    quick: bool = False
    moving: bool = False
    products: dict[str, Product] = field(default_factory=dict)
    steps: dict[str, BaseStep] = field(default_factory=dict)
    names: Names = field(default_factory=lambda: Names({}))
    reached: set[str] = field(default_factory=set)
    bodies: list[KeptBody] = field(default_factory=list)
    kernel_seconds: float = 0.0
    solver_seconds: float = 0.0
    motions: list[HasMotion] = field(default_factory=list)
    hidden: frozenset[str] = frozenset()
    waiting: set[str] = field(default_factory=set)
    file: Callable[[str], bytes | None] = lambda _: None
    build_other: Callable[[Part, dict[str, Product]], BuildResult] = _alone

    def __post_init__(self) -> None:
        self.measure_here()

    def measure_here(self) -> None:
        """Let expressions measure the paths that this context serves."""
        self.scope.measure = self._length_of

    def narrowed(self, declared: Iterable[str], bodies: bool, motions: bool) -> Context:
        """What one step sees: the products of the steps that it declares, the bodies and what is swept before it only
        if it says so.

        Without ``bodies`` it sees of a step that makes some what is planned of it, which is all that it may depend on.
        """
        own = {step: self.products[step] for step in declared if step in self.products}
        if not bodies:
            own = {
                step: p.planned if isinstance(p, BodyProduct) and p.planned is not None else p
                for step, p in own.items()
            }
        found = [m for p in self.products.values() if (m := p.give(HasMotion)) is not None] if motions else []
        return replace(
            self,
            products=own,
            names=Names(self.names),
            bodies=list(self.bodies) if bodies else Unseen(),
            motions=found,
            hidden=frozenset(self.products.keys() - own.keys()),
            kernel_seconds=0.0,
            solver_seconds=0.0,
        )

    def _length_of(self, name: str) -> float:
        """The length of the path of a step, by its id or its name. Raises Problem."""
        step = measured_step(self.names, name)
        if step is None:
            raise Problem(
                "unknown-name", f"there is no step called “{name}” to measure.", "Give a step's name, as length(Path)."
            )
        return self.path(PathRef(step=step), "measured path").length

    def value(self, quantity: Expression, which: str = "") -> float:
        """What a quantity of the step is, in mm, rad, turns or as a plain number, by what its field measures.

        ``which`` is said after its label in messages, where a field holds several: “of point 3”.

        Raises:
            Problem: it cannot be worked out, or is smaller than its field allows; with its label and its field.
            Unbound: it stands in no field of a step.
        """
        own = known(quantity)
        value = self.evaluated(quantity, own.measure, _called(own, which), own.field)
        wrong = own.limit.broken(value) if own.limit is not None else ""
        if own.limit is not None and wrong:
            raise Problem(
                "bad-size",
                f"{_called(own, which)}: {_written(value, own.measure)} {wrong}.",
                own.limit.way_out,
                field=own.field,
            )
        return value

    def given(self, quantity: Expression | None, which: str = "") -> float | None:
        """The same of a quantity that may be left out; None where it is. Raises Problem."""
        return None if quantity is None or quantity == "" else self.value(quantity, which)

    def evaluated(self, expression: Expression, measure: Kind, label: str, field_name: str) -> float:
        """What an expression is, whose measure its field alone does not say. Raises Problem."""
        return self.scope.evaluate(expression, measure, label, field=field_name)

    def formula(self, quantity: Expression) -> Callable[[float], float]:
        """A formula of the parameter as a function of it. Raises Problem, as the function does."""
        own = known(quantity)
        return self.scope.of(PARAMETER, quantity, own.measure, own.label, field=own.field)

    def station(self, quantity: Expression, length: float, which: str = "") -> float:
        """A distance along a path of ``length`` mm, or a share of it where the expression ends in %. Raises Problem."""
        if isinstance(quantity, str) and quantity.rstrip().endswith("%"):
            own = known(quantity)
            return self.evaluated(quantity.rstrip()[:-1], "number", _called(own, which), own.field) / 100 * length
        return self.value(quantity, which)

    def give(self, step: str, capability: type[C], field_name: str, what: str) -> C:
        """What a step gave, as something with a capability; ``what`` says in words what is wanted. Raises Problem."""
        product = self.product(step, field_name)
        found = product.give(capability)
        if found is None and self.quick and type(product) is Product:
            raise self.not_yet(step, field_name)
        if found is None:
            raise self.wrong(step, field_name, what)
        return found

    def plane(self, reference: PlaneRef) -> Plane:
        if isinstance(reference, PrincipalPlane):
            return PRINCIPAL[reference.plane]
        return self.give(reference.step, HasPlane, "plane", "a plane").plane

    def faces(self, step: str, field_name: str) -> HasFaces:
        return self.give(step, HasFaces, field_name, "a body with named faces")

    def edges(self, step: str, field_name: str) -> HasEdges:
        return self.give(step, HasEdges, field_name, "a body with named edges")

    def motion(self, step: str, field_name: str) -> HasMotion:
        return self.give(step, HasMotion, field_name, "a sweep or an extrusion")

    def face(self, step: str, face: str, seen: SeenFace | None = None) -> Plane:
        """The plane of a flat face, by its name; in a quick build, where only its solid has it, that of where it was
        ``seen``.

        Raises Problem.
        """
        known = self.product(step, "face").give(HasFaces)
        if known is None and seen is not None and self.quick:
            return plane_on(np.array(seen.point), np.array(seen.normal))
        plane = self.faces(step, "face").flat_face(face)
        if plane is None:
            raise self._no_face(step, face)
        return plane

    def middle_of_face(self, face: FaceRef, field_name: str) -> Plane:
        """The plane of a flat face with its origin in the middle of the face, which in a quick build may not be known
        yet.

        Raises Problem.
        """
        plane = self.end(EndFace(face=face), field_name)
        if self.quick and self.product(face.step, field_name).give(HasFaces) is None:
            return plane if face.seen is None else replace(plane, origin=np.array(face.seen.point))
        own, regions = self._face_profile(face)
        corners = np.vstack([r.outer.polygon(0.5)[:, :2] for r in regions])
        return replace(plane, origin=own.to_space((corners.min(axis=0) + corners.max(axis=0)) / 2))

    def end(self, end: EndPlane | EndFace, field_name: str) -> Plane:
        """The plane at which what is carried along ends. Raises Problem."""
        try:
            return (
                self.plane(end.plane)
                if isinstance(end, EndPlane)
                else self.face(end.face.step, end.face.face, end.face.seen)
            )
        except Problem as problem:
            raise problem.after("", field=field_name) from None

    def path(self, reference: PathRef, field_name: str = "path") -> Path:
        found = self.give(reference.step, HasPath, field_name, "a path")
        return self._named(reference.step, lambda: found.follow(reference.curves))

    def starts(self, reference: PathRef) -> Placements | None:
        """Where the further starts of a path stand, if it has several."""
        found = self.product(reference.step, "path").give(HasPath)
        return None if found is None else found.starts

    def profile(self, reference: ProfileRef | FaceRef, surface: bool = False) -> tuple[Plane, list[Region]]:
        """A plane and the regions on it, or for a ``surface`` the bare outlines. Raises Problem."""
        if isinstance(reference, FaceRef):
            return self._face_profile(reference)
        found = self.give(reference.step, HasProfile, "profile", "a profile sketch")
        return self._named(reference.step, lambda: found.profile(reference.regions, surface))

    def _face_profile(self, reference: FaceRef) -> tuple[Plane, list[Region]]:
        found = self.faces(reference.step, "profile").outline(reference.face)
        if found is None:
            raise self._no_face(reference.step, reference.face)
        plane, loops = found
        nested = nest([Loop(tuple(edges)).oriented(True) for edges in loops])
        return plane, [r for r, material in nested if material]

    def _no_face(self, step: str, face: str) -> Problem:
        return Problem(
            "deleted-reference",
            f"“{self.names.get(step, step)}” has the {face_title(face, self.names)} no more, or it is not flat.",
            "Pick a flat face again, or take one that is offered.",
            field="face",
            source=step,
            lost=face,
        )

    def sketch(self, step: str, field_name: str) -> HasDrawing:
        """A solved sketch with its plane. Raises Problem."""
        return self.give(step, HasDrawing, field_name, "a sketch")

    def drawn_point(self, step: str, point: str, field_name: str) -> Array:
        """A point of a sketch in space (3,). Raises Problem."""
        product = self.sketch(step, field_name)
        at = coordinates(product.solution.sketch)
        if point not in at:
            raise Problem(
                "deleted-reference",
                f"The point {point} is no longer in “{self.names.get(step, step)}”.",
                "Pick another point.",
                field=field_name,
                source=step,
            )
        return product.plane.to_space(at[point])

    def line(self, step: str, line: str, field_name: str) -> Array:
        """Both ends of a straight line of a sketch in space, (2, 3). Raises Problem."""
        product = self.sketch(step, field_name)
        entity = next((e for e in product.solution.sketch.entities if e.id == line), None)
        if not isinstance(entity, Line):
            raise Problem(
                "deleted-reference",
                f"The line {line} is no longer in “{self.names.get(step, step)}”.",
                "Pick another line.",
                field=field_name,
                source=step,
            )
        at = coordinates(product.solution.sketch)
        return product.plane.to_space(np.array([at[entity.start], at[entity.end]]))

    def _named(self, step: str, make: Callable[[], T]) -> T:
        """Run ``make``; a problem inside the other step's sketch is said with that step's name."""
        try:
            return make()
        except Problem as problem:
            raise problem.after(f"“{self.names.get(step, step)}”: ", source=step) from None

    def not_yet(self, step: str, field_name: str) -> Problem:
        """What is said in a quick build of what only the build can tell."""
        return Problem(
            NOT_YET,
            f"“{self.names.get(step, step)}” is known once it is built.",
            "Wait for the build.",
            field=field_name,
            source=step,
        )

    def product(self, step: str, field_name: str) -> Product:
        if step in self.products:
            return self.products[step]
        if step in self.waiting:
            raise self.not_yet(step, field_name)
        if step in self.hidden:
            raise Undeclared(f"the step {step}")
        if step in self.names and self.reached and step not in self.reached:
            raise Problem(
                "comes-later",
                f"It needs “{self.names[step]}”, which comes later.",
                f"Move “{self.names[step]}” up before it, or pick another {field_name}.",
                field=field_name,
                source=step,
            )
        if step in self.names:
            raise Problem(
                "source-failed",
                f"It needs “{self.names[step]}”, which has no result.",
                f"Mend “{self.names[step]}” first, or pick another {field_name}.",
                field=field_name,
                source=step,
            )
        raise Problem(
            "deleted-reference",
            f"Its {field_name} was the step {step}, which is no longer there.",
            f"Pick another {field_name}.",
            field=field_name,
        )

    def wrong(self, step: str, field_name: str, what: str) -> Problem:
        return Problem(
            "wrong-source", f"“{self.names.get(step, step)}” is not {what}.", f"Pick {what}.", field=field_name
        )
