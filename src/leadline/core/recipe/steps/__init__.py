"""How each kind of step is built: ``BUILDERS`` maps the kind to its function."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from leadline.core.recipe.results import Product, Report
from leadline.core.recipe.steps import datum, extrude, plane, sketch, sweep
from leadline.core.recipe.steps.context import Context

Builder = Callable[[Context, Any, Report], Product]

BUILDERS: dict[str, Builder] = {
    "sketch": sketch.build,
    "plane": plane.build,
    "datum": datum.build,
    "extrude": extrude.build,
    "sweep": sweep.build,
}
