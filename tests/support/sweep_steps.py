"""Sweeps as steps."""

from __future__ import annotations

from typing import Any

from leadline.recipe.build import build
from tests.support.parts import part


def document(*steps: dict[str, Any], **sweep: Any) -> Any:
    own = {
        "kind": "sweep",
        "id": "sweep",
        "name": "Sweep",
        "path": {"step": "path"},
        "profile": {"step": "profile"},
        **sweep,
    }
    return part({"format": "leadline-part", "version": 1, "name": "P", "steps": [*steps, own]})


def swept(*steps: dict[str, Any], **sweep: Any):
    """Report and bodies of a sweep that is built."""
    result = build(document(*steps, **sweep))
    report = result.reports["sweep"]
    assert report.state == "fresh", [m.text for m in report.messages]
    return report, result.bodies


def refused(*steps: dict[str, Any], **sweep: Any):
    result = build(document(*steps, **sweep))
    assert result.reports["sweep"].state == "failed"
    return result.reports["sweep"].messages[-1]
