"""How each kind of step is built: ``BUILDERS`` maps the kind to its function."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from leadline.core.recipe.results import Product, Report
from leadline.core.recipe.steps import (
    clearance,
    crossing,
    curves,
    datum,
    derived,
    edges,
    extrude,
    helix,
    hoses,
    plane,
    repeat,
    revolve,
    routes,
    sketch,
    sweep,
)
from leadline.core.recipe.steps.context import Context

Builder = Callable[[Context, Any, Report], Product]

BUILDERS: dict[str, Builder] = {
    "sketch": sketch.build,
    "plane": plane.build,
    "datum": datum.build,
    "crossing": crossing.build,
    "curve": curves.build,
    "derived": derived.build,
    "projected": crossing.build_projected,
    "edges": edges.build,
    "helix": helix.build,
    "hose": hoses.build,
    "joined": routes.build_joined,
    "route": routes.build_route,
    "wound": routes.build_wound,
    "extrude": extrude.build,
    "revolve": revolve.build,
    "sweep": sweep.build,
    "repeat": repeat.build,
    "clearance": clearance.build,
}
