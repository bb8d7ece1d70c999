"""What views are told of a thread."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import BodyResult, Vec3


class ThreadShown(TypedDict):
    """A thread: its ``title`` as a drawing writes it, its sizes in mm, how much it ``took`` (mm³), the class of its
    ``mate`` with the least and the greatest ``clearance`` of their pitch diameters, and whether it is ``real`` or drawn
    only.

    ``lines`` are its crest and its root as lines in space, told of a thread that is drawn only.
    """

    title: str
    side: str
    major: float
    pitch: float
    lead: float
    pitch_diameter: float
    minor: float
    turns: float
    length: float
    took: float
    mate: str
    clearance: tuple[float, float] | None
    real: bool
    lines: list[list[Vec3]]


class ThreadedResult(BodyResult, total=False):
    thread: ThreadShown
