"""What views are told of edges as a path."""

from __future__ import annotations

from leadline.recipe.shown import PathResult


class EdgesResult(PathResult, total=False):
    """``edges`` are the names of all that were taken, those that go on smoothly too."""

    edges: list[str]
