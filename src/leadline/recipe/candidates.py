"""What is offered where a face or an edge that a step refers to is gone: the nearest ones that there are, each to be
taken by one click.
"""

from __future__ import annotations

import difflib
from collections.abc import Mapping
from typing import Any

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem, Remedy, mm
from leadline.recipe.inputs import BaseStep
from leadline.recipe.products import HasFaces, Product

MOST = 3  # that are offered
LEAN = 100.0  # mm that a face counts as farther away for each rad that it leans from the one that was meant


def with_faces(problem: Problem, step: BaseStep, products: Mapping[str, Product]) -> Problem:
    """A problem about a face that is ``lost`` from the step ``source`` with the nearest flat faces of that one as ways
    out; any other as it is.
    """
    place = problem.message.place
    lost, source = str(place.get("lost", "")), str(place.get("source", ""))
    known = products[source].give(HasFaces) if lost and source in products else None
    if known is None or problem.message.remedies:
        return problem
    document = step.model_dump(mode="json")
    seen = next(
        (r["seen"] for r in _references(document) if r["step"] == source and r.get("face") == lost and r.get("seen")),
        None,
    )
    found = _by_place(known.flat_faces(), seen) if seen is not None else _by_name(known.flat_faces(), lost)
    offers = []
    for name, away in found[:MOST]:
        change = _changed(document, {"step": source, "face": lost}, {"face": name})
        offers.append(
            Remedy("Take the face most like it" if away is None else f"Take the face {mm(away)} from there", change)
        )
    return problem.mended(*offers)


def with_edges(problem: Problem, step: BaseStep, lost: str, edges: Mapping[str, tuple[str, Array]]) -> Problem:
    """A problem about the edge ``lost`` with the nearest ``edges``, by name the step that has them and their points
    (n, 3), as ways out.
    """
    document = step.model_dump(mode="json")
    own = next(r for r in _references(document) if r.get("edge") == lost)
    free = {n: e for n, e in edges.items() if all(r.get("edge") != n for r in _references(document))}
    if own.get("seen"):
        away = {
            n: float(np.linalg.norm(points - np.array(own["seen"]), axis=1).min()) for n, (_, points) in free.items()
        }
        found: list[tuple[str, float | None]] = [(n, away[n]) for n in sorted(away, key=away.__getitem__)]
    else:
        found = _by_name(free, lost)
    offers = []
    for name, distance in found[:MOST]:
        source, points = free[name]
        new = {"step": source, "edge": name, "seen": points[len(points) // 2].round(6).tolist()}
        change = _changed(document, {"step": own["step"], "edge": lost}, new)
        offers.append(
            Remedy(
                "Take the edge most like it" if distance is None else f"Take the edge {mm(distance)} from there", change
            )
        )
    return problem.mended(*offers)


def _by_place(faces: Mapping[str, Plane], seen: Mapping[str, Any]) -> list[tuple[str, float | None]]:
    """Faces by how far they are from where the lost one was, those that lean from it later, with the distance."""
    point, normal = np.array(seen["point"]), np.array(seen["normal"])
    away = {name: abs(float(plane.height(point))) for name, plane in faces.items()}
    lean = {name: float(np.arccos(np.clip(plane.normal @ normal, -1, 1))) for name, plane in faces.items()}
    return [(name, away[name]) for name in sorted(faces, key=lambda n: away[n] + LEAN * lean[n])]


def _by_name(known: Mapping[str, object], lost: str) -> list[tuple[str, float | None]]:
    """Names by how much of the lost one they have: of what was taken from the same side, or the same edge of a section,
    most.
    """
    likeness = {name: difflib.SequenceMatcher(None, name, lost).ratio() for name in known}
    return [(name, None) for name in sorted(likeness, key=lambda n: -likeness[n])]


def _references(value: object) -> list[dict[str, Any]]:
    """All references to faces and edges in a step's document."""
    if isinstance(value, dict):
        own = [value] if "step" in value and ("face" in value or "edge" in value) else []
        return own + [r for inner in value.values() for r in _references(inner)]
    return [r for inner in value for r in _references(inner)] if isinstance(value, list) else []


def _changed(document: Mapping[str, Any], old: Mapping[str, str], new: Mapping[str, Any]) -> dict[str, Any]:
    """The fields of a step that refer to what is lost, with what is to be taken for it."""

    def swapped(value: Any) -> Any:
        if isinstance(value, dict):
            if all(value.get(k) == v for k, v in old.items()):
                return {**value, "seen": None, **new}
            return {k: swapped(v) for k, v in value.items()}
        return [swapped(v) for v in value] if isinstance(value, list) else value

    after = {field: swapped(value) for field, value in document.items()}
    return {field: value for field, value in after.items() if value != document[field]}
