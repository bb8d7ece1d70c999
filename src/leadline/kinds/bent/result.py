"""What views are told of a tube that is bent."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import Shown


class BendShown(TypedDict):
    """One bend: ``feed`` in mm, ``turn`` and ``angle`` (what is left) in degrees; ``fed``, ``turned`` and ``made`` as
    the machine is told; and where it is along the path.
    """

    feed: float
    turn: float
    angle: float
    fed: float
    turned: float
    made: float
    radius: float
    start: float
    end: float


class ToolingShown(TypedDict):
    up_to: float | None
    words: str


class BentShown(TypedDict):
    """The program, the straight after it, how long to cut the tube, and of all tubes the lengths cut from each bar; the
    names of the ``machines`` that there are, by their files; and the usual ``tooling_rows``.
    """

    rows: list[BendShown]
    last: float
    cut: float
    bars: list[list[float]]
    waste: float
    tooling: str
    machines: dict[str, str]
    tooling_rows: list[ToolingShown]


class BentResult(Shown, total=False):
    bent: BentShown
