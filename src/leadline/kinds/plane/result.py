"""What views are told of a plane square to a path."""

from __future__ import annotations

from leadline.recipe.shown import PlaneShown, Shown


class PlaneResult(Shown, total=False):
    """``station`` is where it stands on the path, ``length`` that of the path."""

    plane: PlaneShown
    station: float
    length: float
