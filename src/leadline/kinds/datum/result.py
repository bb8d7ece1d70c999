"""What views are told of a datum plane."""

from __future__ import annotations

from leadline.recipe.shown import PlaneShown, Shown


class DatumResult(Shown, total=False):
    plane: PlaneShown
