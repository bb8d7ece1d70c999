"""STEP (ISO 10303-21): the exact bodies, by name and in the part's unit."""

from __future__ import annotations

import tempfile
from pathlib import Path

from leadline.core.solids.step_file import Placed, write_step
from leadline.core.units import LengthUnit
from leadline.exports.formats import Format
from leadline.recipe.results import BuildResult


def write(result: BuildResult, unit: LengthUnit) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        write_step([Placed(b.body, b.places, b.name) for b in result.bodies], path, unit)
        return path.read_bytes()


FORMAT = Format("STEP", "The exact bodies, by name", "model/step", write, exact=True)
