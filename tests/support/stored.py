"""Stored parts, and the figures that they were built to when they were stored.

``python -m tests.support.stored NAME`` writes the figures of a part that has just been put in ``tests/stored/v1``. Look
at them before you commit them: from then on they are what the part has to be built to.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from leadline.recipe.build import BuildResult, build
from leadline.recipe.part_file import read_part

STORED = Path(__file__).resolve().parents[1] / "stored"
FIGURES = STORED / "figures"


def stored_parts() -> list[str]:
    """The names of all parts, in alphabetical order."""
    return sorted(file.stem for file in (STORED / "v1").glob("*.json"))


def document(name: str) -> str:
    """The text of a part, as it was stored."""
    return (STORED / "v1" / f"{name}.json").read_text()


def figures(name: str) -> dict[str, Any]:
    """What a part was built to when it was stored: states and figures of its ``steps``, its ``bodies`` (volume in mm³,
    area in mm², centre in mm) and the ``lengths`` of its paths (mm).
    """
    found: dict[str, Any] = json.loads((FIGURES / f"{name}.json").read_text())
    return found


def figures_of(result: BuildResult) -> dict[str, Any]:
    """What a part is built to, in the form in which it is stored."""
    return {
        "steps": {name: [report.state, report.figure] for name, report in result.reports.items()},
        "bodies": [
            {
                "name": kept.name,
                "faces": len(kept.body.face_names),
                "volume": kept.body.volume(),
                "area": kept.body.area(),
                "centre": list(kept.body.centre()),
            }
            for kept in result.bodies
        ],
        "lengths": {n: r.data["path"]["length"] for n, r in result.reports.items() if "path" in r.data},
    }


if __name__ == "__main__":
    for name in sys.argv[1:]:
        found = figures_of(build(read_part(document(name))))
        (FIGURES / f"{name}.json").write_text(json.dumps(found, indent=1) + "\n")
