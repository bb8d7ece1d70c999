"""What a build gives back, step by step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.problems import Message
from leadline.core.sketch.solver import Solution
from leadline.core.solids.body import Body
from leadline.core.sweep.motion import Motion

State = Literal["fresh", "failed", "off", "below", "stopped"]


@dataclass
class Report:
    """What a view shows of a step. ``data`` is JSON: sketch state, plane, lanes, section, numbers."""

    id: str
    state: State
    figure: str = ""
    messages: list[Message] = field(default_factory=list)
    uses: list[str] = field(default_factory=list)
    data: dict[str, Any] = field(default_factory=dict)
    key: str = ""
    seconds: float = 0.0

    def as_dict(self) -> dict[str, Any]:
        return {
            "id": self.id, "state": self.state, "figure": self.figure, "uses": self.uses, "data": self.data,
            "messages": [m.as_dict() for m in self.messages], "key": self.key, "seconds": round(self.seconds, 4),
        }  # fmt: skip


@dataclass
class KeptBody:
    """A body in the state after a step. ``key`` changes when, and only when, its geometry may have.

    With ``places`` it stands for as many copies; ``shape_key`` is then the key of the body that they are copies of.
    """

    key: str
    name: str
    step: str
    body: Body
    mesh: DisplayMesh | None = None
    places: Placements | None = None
    shape_key: str = ""

    @property
    def mesh_key(self) -> str:
        """The key under which its mesh is kept."""
        return self.shape_key or self.key

    def as_dict(self) -> dict[str, Any]:
        return {
            "key": self.key, "name": self.name, "step": self.step, "mesh": self.mesh_key,
            "places": None if self.places is None else self.places.packed(),
        }  # fmt: skip


@dataclass
class SketchProduct:
    plane: Plane
    solution: Solution


@dataclass
class PlaneProduct:
    plane: Plane
    path: Path
    station: float


@dataclass
class DatumProduct:
    plane: Plane


@dataclass
class PathProduct:
    """A path; with several ``starts``, the moves that take it to each of them, itself included."""

    path: Path
    starts: Placements | None = None


@dataclass
class SweepPlan:
    """All that is known of a sweep before the kernel is asked.

    With ``copies`` it is made once at each of these places; ``data`` then has the numbers of all.
    """

    motion: Motion
    regions: Sequence[Region]
    messages: list[Message]
    data: dict[str, Any]
    figure: str
    copies: Placements | None = None

    @property
    def count(self) -> int:
        return 1 if self.copies is None else len(self.copies)


@dataclass
class BodyProduct:
    """The plan and the bodies: when ``alone`` only the step's own, else all of the part's after the step.

    What is not swept has no plan.
    """

    plan: SweepPlan | None
    bodies: list[KeptBody]
    alone: bool


@dataclass
class CopiesPlan:
    """Where a repeat's copies stand, before the kernel is asked."""

    places: Placements


@dataclass
class MeasureProduct:
    """What a step gives that only measures: nothing that others could use."""


Product = CopiesPlan | MeasureProduct | SketchProduct | PlaneProduct | DatumProduct | PathProduct | BodyProduct | SweepPlan


def plan_of(product: Product) -> SweepPlan | None:
    """What is planned of a body step's product, built or not; none of any other."""
    plan = product.plan if isinstance(product, BodyProduct) else product
    return plan if isinstance(plan, SweepPlan) else None


@dataclass
class BuildResult:
    """Reports by step id, in the part's order, and the bodies at the sinker; ``density`` of the part's material in kg/m³."""

    reports: dict[str, Report]
    bodies: list[KeptBody]
    messages: list[Message] = field(default_factory=list)
    seconds: dict[str, float] = field(default_factory=dict)
    density: float | None = None

    def as_dict(self) -> dict[str, Any]:
        return {
            "steps": {k: r.as_dict() for k, r in self.reports.items()},
            "bodies": [b.as_dict() for b in self.bodies],
            "messages": [m.as_dict() for m in self.messages],
            "seconds": {k: round(v, 4) for k, v in self.seconds.items()}, "density": self.density,
        }
