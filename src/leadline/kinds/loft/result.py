"""What views are told of a loft."""

from __future__ import annotations

from leadline.recipe.shown import SweptResult, Vec3


class LoftResult(SweptResult, total=False):
    """``threads`` are the places that correspond, a point on each section's outline, and ``shares`` where on it they
    are; ``lines`` are the ways from one to the next; the last ``on_rails`` of them are where rails have them.

    ``rings`` are points all round each outline at even shares, the first again at the end; ``stations`` those of the
    sections.
    """

    threads: list[list[Vec3]]
    shares: list[list[float]]
    lines: list[list[Vec3]]
    on_rails: int
    rings: list[list[Vec3]]
    stations: list[float]
