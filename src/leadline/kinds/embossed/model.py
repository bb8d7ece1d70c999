"""What raising an area of a body's side takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from leadline.core.marks import A_LENGTH, Length, Refers
from leadline.core.sketch.model import Id
from leadline.recipe.inputs import BaseStep, FaceRef, ProfileRef


class EmbossedStep(BaseStep):
    """Outlines carried along their plane's normal onto the side of an earlier step's body, which is raised or sunk
    within them by ``height``.

    The height is measured square to the side and follows it. Of two sides that the outlines meet it is the nearer one,
    ahead of the plane if there is one. A hollow step after it goes by the body without the raised area: it does not
    show inside.
    """

    kind: Literal["embossed"] = "embossed"
    body: Annotated[Id, Refers("body")]
    profile: Annotated[ProfileRef | FaceRef, Refers("section")]
    height: Annotated[Length, A_LENGTH]
    way: Literal["raised", "sunk"] = "raised"
