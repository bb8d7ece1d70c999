"""What a step sees while it is built: evaluated values, the products before it, the bodies so far."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TypeVar

from leadline.core.geometry.plane import PRINCIPAL, Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path, path_from_sketch
from leadline.core.problems import Problem
from leadline.core.recipe.models import PathRef, PlaneRef, PrincipalPlane, ProfileRef
from leadline.core.recipe.results import (
    BodyProduct,
    DatumProduct,
    KeptBody,
    PlaneProduct,
    Product,
    SketchProduct,
    SweepPlan,
)
from leadline.core.sketch.outline import regions
from leadline.core.sweep.faces import flat_face
from leadline.core.values import Expression, Kind, Scope

T = TypeVar("T")


@dataclass
class Context:
    """``quick`` stops before the kernel: body steps then give their plan only."""

    scope: Scope
    quick: bool = False
    products: dict[str, Product] = field(default_factory=dict)
    names: dict[str, str] = field(default_factory=dict)
    bodies: list[KeptBody] = field(default_factory=list)
    kernel_seconds: float = 0.0
    solver_seconds: float = 0.0

    def value(self, expression: Expression, kind: Kind, field_name: str) -> float:
        return self.scope.evaluate(expression, kind, field_name)

    def plane(self, reference: PlaneRef) -> Plane:
        if isinstance(reference, PrincipalPlane):
            return PRINCIPAL[reference.plane]
        product = self.product(reference.step, "plane")
        if isinstance(product, PlaneProduct | DatumProduct):
            return product.plane
        raise self.wrong(reference.step, "plane", "a plane")

    def plan(self, step: str, field_name: str) -> SweepPlan:
        """The plan of a body step. Raises Problem."""
        product = self.product(step, field_name)
        if isinstance(product, BodyProduct):
            return product.plan
        if not isinstance(product, SweepPlan):
            raise self.wrong(step, field_name, "a body")
        return product

    def face(self, step: str, face: str) -> Plane:
        """The plane of a flat face of a swept body, by its name. Raises Problem."""
        plan = self.plan(step, "face")
        plane = flat_face(plan.motion, plan.regions, face)
        if plane is None:
            raise Problem(
                "deleted-reference", f"“{self.names.get(step, step)}” has no flat face {face} any more.",
                "Pick a flat face again.", field="face", source=step,
            )  # fmt: skip
        return plane

    def path(self, reference: PathRef, field_name: str = "path") -> Path:
        product = self.product(reference.step, field_name)
        if isinstance(product, SketchProduct):
            return self._named(reference.step, lambda: path_from_sketch(
                product.solution.sketch, product.plane, reference.curves))  # fmt: skip
        if isinstance(product, SweepPlan):
            return product.motion.path
        if isinstance(product, BodyProduct):
            return product.plan.motion.path
        raise self.wrong(reference.step, field_name, "a path")

    def profile(self, reference: ProfileRef) -> tuple[Plane, list[Region]]:
        product = self.product(reference.step, "profile")
        if not isinstance(product, SketchProduct):
            raise self.wrong(reference.step, "profile", "a profile sketch")
        sketch = product.solution.sketch
        return product.plane, self._named(reference.step, lambda: regions(sketch, reference.regions))

    def _named(self, step: str, make: Callable[[], T]) -> T:
        """Run ``make``; a problem inside the other step's sketch is said with that step's name."""
        try:
            return make()
        except Problem as problem:
            m = problem.message
            raise Problem(
                m.code, f"“{self.names.get(step, step)}”: {m.text}", m.way_out, source=step, **m.place
            ) from None

    def product(self, step: str, field_name: str) -> Product:
        if step in self.products:
            return self.products[step]
        if step in self.names:
            raise Problem(
                "source-failed", f"It needs “{self.names[step]}”, which has no result.",
                f"Mend “{self.names[step]}” first, or pick another {field_name}.", field=field_name, source=step,
            )  # fmt: skip
        raise Problem(
            "deleted-reference", f"Its {field_name} was the step {step}, which is no longer there.",
            f"Pick another {field_name}.", field=field_name,
        )  # fmt: skip

    def wrong(self, step: str, field_name: str, what: str) -> Problem:
        return Problem(
            "wrong-source", f"“{self.names.get(step, step)}” is not {what}.", f"Pick {what}.", field=field_name
        )
