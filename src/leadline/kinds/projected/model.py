"""What a path laid onto a surface takes in."""

from __future__ import annotations

from typing import Literal

from leadline.recipe.inputs import BaseStep, PathRef, SidesRef, Up


class ProjectedStep(BaseStep):
    """A path laid ``onto`` the sides of a body: ``along`` an axis or a plane's normal, where it first meets them
    (against it if not all along), or at the nearest place.
    """

    kind: Literal["projected"] = "projected"
    path: PathRef
    onto: SidesRef
    along: Up | None = None
