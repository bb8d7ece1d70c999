"""A part built without a server, and saved to a folder in every format."""

from __future__ import annotations

import json
from pathlib import Path

from leadline.exports.formats import Look, export, formats, saved_by
from leadline.recipe.build import build
from leadline.recipe.part import Part
from leadline.recipe.results import BuildResult


def build_to_folder(part: Part, folder: Path) -> BuildResult:
    """Write ``report.json``, and ``part.<ending>`` for each format that can save what came out."""
    folder.mkdir(parents=True, exist_ok=True)
    result = build(part)
    report = {"part": part.name, "units": part.units, **result.as_dict()}
    (folder / "report.json").write_text(json.dumps(report, indent=1))
    for name, form in formats().items():
        if saved_by(form, result):
            (folder / f"part.{name}").write_bytes(export(result, name, Look.of(part)))
    return result
