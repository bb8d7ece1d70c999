"""What views are told of a joined path."""

from __future__ import annotations

from leadline.recipe.shown import PathResult


class JoinedResult(PathResult, total=False):
    """``order`` has the names of the parts as they follow each other."""

    order: list[str]
