"""STEP (ISO 10303-21): the exact bodies, by name, with their colours and in the part's unit."""

from __future__ import annotations

import tempfile
from pathlib import Path

from leadline.core.solids.step_file import Placed, write_step
from leadline.exports.formats import Format, Look
from leadline.recipe.results import BuildResult


def write(result: BuildResult, look: Look) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        write_step(
            [Placed(b.body, b.places, b.name, look.colours.get(b.step, b.colour)) for b in result.bodies],
            path,
            look.unit,
        )
        return path.read_bytes()


FORMAT = Format("STEP", "The exact bodies, by name, with their colours", "model/step", write, exact=True)
