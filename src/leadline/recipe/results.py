"""The result of a build: a report for each step, and the bodies."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import BaseModel

from leadline.core.geometry.mesh import MOST_TRIANGLES
from leadline.core.problems import Message
from leadline.core.units import LengthUnit
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.shown import Shown

FEWEST = 128  # triangles with which a body is shown, however many there are
State = Literal["fresh", "failed", "off", "below", "stopped"]


@dataclass
class Report:
    """What a view is told of a step: the steps that it ``uses``, and the named ``values``.

    ``data`` is as the ``result.py`` of its kind's room says.
    """

    id: str
    kind: str
    state: State
    figure: str = ""
    messages: list[Message] = field(default_factory=list)
    uses: list[str] = field(default_factory=list)
    values: list[str] = field(default_factory=list)
    data: Shown = field(default_factory=Shown)
    key: str = ""
    seconds: float = 0.0

    def as_dict(self, unit: LengthUnit) -> dict[str, Any]:
        """As JSON; the lengths in messages are told in a unit."""
        return {
            "id": self.id,
            "kind": self.kind,
            "state": self.state,
            "figure": self.figure,
            "uses": self.uses,
            "values": self.values,
            "data": as_json(self.data),
            "messages": [m.as_dict(unit) for m in self.messages],
            "key": self.key,
            "seconds": round(self.seconds, 4),
        }


def as_json(shown: Mapping[str, object]) -> dict[str, Any]:
    """The data of a report as JSON; models in it, such as a sketch, are written out."""
    return {k: v.model_dump(mode="json") if isinstance(v, BaseModel) else v for k, v in shown.items()}


@dataclass
class BuildResult:
    """Reports by step id, in the part's order, and the bodies at the sinker; ``density`` of the part's material in
    kg/m³.

    ``units`` are those in which the part's lengths are told.
    """

    reports: dict[str, Report]
    bodies: list[KeptBody]
    units: LengthUnit
    messages: list[Message] = field(default_factory=list)
    seconds: dict[str, float] = field(default_factory=dict)
    density: float | None = None

    def _shares(self) -> list[int | None]:
        """How many triangles each body, or each of its copies, is to be shown with, where all of them together have too
        many; powers of two, so that few others are made when a part changes.
        """
        own = [0 if b.only_mesh else b.mesh_facts.triangles for b in self.bodies]
        every = sum(n * b.count for n, b in zip(own, self.bodies, strict=True))
        if every <= MOST_TRIANGLES:
            return [None] * len(own)
        return [None if n == 0 else 2 ** math.floor(math.log2(max(FEWEST, n * MOST_TRIANGLES / every))) for n in own]

    def as_dict(self) -> dict[str, Any]:
        return {
            "steps": {k: r.as_dict(self.units) for k, r in self.reports.items()},
            "bodies": [b.as_dict(most) for b, most in zip(self.bodies, self._shares(), strict=True)],
            "messages": [m.as_dict(self.units) for m in self.messages],
            "seconds": {k: round(v, 4) for k, v in self.seconds.items()},
            "density": self.density,
        }
