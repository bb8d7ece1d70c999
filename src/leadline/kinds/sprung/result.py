"""What views are told of a spring."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import SweptResult


class LoadShown(TypedDict):
    """A load: ``angle`` in degrees; ``force`` in N, of a torsion spring in N mm; ``share`` of what the wire bears.

    ``between`` are the least and the greatest force there by the tolerances, where some are given; null in it where the
    spring is solid before.
    """

    length: float | None
    travel: float | None
    angle: float | None
    force: float
    corrected: float
    share: float
    between: tuple[float | None, float | None] | None


class SpringShown(TypedDict):
    """Its rate in N/mm (N mm for each degree of a torsion spring), its graph by length (or degrees), and the loads on
    it.

    ``rates`` are the least and the greatest rate by the tolerances, ``solid`` is its length when all turns are closed,
    ``buckles`` how far it can be pressed before it does; null where there is none.
    """

    duty: str
    index: float
    rate: float
    rates: tuple[float, float] | None
    free: float | None
    solid: float | None
    solid_force: float | None
    buckles: float | None
    frequency: float | None
    permitted: float
    wire_length: float
    mass: float
    at: list[float]
    force: list[float]
    loads: list[LoadShown]


class SprungResult(SweptResult, total=False):
    spring: SpringShown
