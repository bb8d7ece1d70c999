"""Parts and sketch edits that nobody would make on purpose: demo parts with a few fields changed at random."""

from __future__ import annotations

import copy
import json
from typing import Any

import numpy as np

from tests.support.parts import DEMO

NUMBERS = (
    0,
    -1,
    1,
    1e-9,
    1e9,
    7.3,
    "1/0",
    "1<2",
    "50 %",
    "3 mm",
    "90 deg",
    "wall",
    "-(2 mm)",
    "x",
    "",
    "1e400",
    "5' 3\"",
)
DEMOS = [
    json.loads(p.read_bytes())
    for p in sorted(DEMO.glob("*.json"))
    if "long-way" not in p.stem and "finished" not in p.stem
]


def places(node: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The paths to all leaves of a document."""
    if isinstance(node, dict):
        return [p for k, v in node.items() for p in places(v, (*path, k))]
    if isinstance(node, list):
        return [p for i, v in enumerate(node) for p in places(v, (*path, i))]
    return [path]


def mutated(random: np.random.Generator) -> dict[str, Any]:
    """A demo part with one to four leaves changed, or steps moved, doubled, taken away or referred to wrongly."""
    document = copy.deepcopy(DEMOS[int(random.integers(len(DEMOS)))])
    steps = document["steps"]
    for _ in range(int(random.integers(1, 5))):
        what = random.random()
        if what < 0.08 and len(steps) > 1:
            steps.insert(int(random.integers(len(steps))), steps.pop(int(random.integers(len(steps)))))
        elif what < 0.13 and len(steps) > 1:
            steps.pop(int(random.integers(len(steps))))
        else:
            _change_leaf(document, random)
    return document


def _change_leaf(document: dict[str, Any], random: np.random.Generator) -> None:
    index = int(random.integers(len(document["steps"])))
    leaves = places(document["steps"][index], ("steps", index))
    *path, last = leaves[int(random.integers(len(leaves)))]
    node: Any = document
    for key in path:
        node = node[key]
    value = node[last]
    if isinstance(value, bool):
        node[last] = not value
    elif isinstance(value, str) and random.random() < 0.5:
        others = [s["id"] for s in document["steps"]] + ["O", "X", "Y", "XY", "gone"]
        node[last] = others[int(random.integers(len(others)))]
    elif isinstance(value, float | int) and random.random() < 0.5:
        node[last] = float(value * random.choice([-1, 0, 0.01, 0.5, 1.5, 3, 100]))
    elif value is None and random.random() < 0.5:
        return
    else:
        node[last] = NUMBERS[int(random.integers(len(NUMBERS)))]


OPERATIONS: dict[str, tuple[str, ...]] = {
    "trim": ("entity", "at"),
    "split": ("entity", "at"),
    "extend": ("entity", "at"),
    "fillet": ("point", "size"),
    "chamfer": ("point", "size"),
    "offset": ("items", "distance"),
    "mirror": ("items", "about"),
    "transform": ("items", "dx", "dy", "angle", "factor"),
    "smooth": ("items", "tolerance"),
    "linear_copies": ("items", "dx", "dy", "count"),
    "circular_copies": ("items", "center", "angle", "count"),
    "handles": ("spline",),
}


def random_edit(sketch: dict[str, Any], random: np.random.Generator) -> dict[str, Any]:
    """One edit operation on things of a sketch, or on what is not there."""
    entities, points = [e["id"] for e in sketch["entities"]], [p["id"] for p in sketch["points"]]
    names = [*entities, *points, "O", "X", "Y", "gone"]
    size = float(random.choice([0, -3, 0.01, 2, 5, 40, 1e4]))
    pick = lambda pool: str(random.choice(pool or names))  # noqa: E731
    at = [float(v) for v in random.uniform(-60, 100, 2)]
    values: dict[str, Any] = {
        "entity": pick(entities if random.random() < 0.9 else names),
        "spline": pick(entities),
        "count": int(random.integers(2, 6)),
        "center": at,
        "at": at,
        "point": pick(points if random.random() < 0.9 else names),
        "size": size,
        "distance": size,
        "items": [pick(names) for _ in range(int(random.integers(1, 4)))],
        "about": pick(names),
        "tolerance": abs(size) or 0.1,
        "dx": size,
        "dy": 1.0,
        "angle": size,
        "factor": float(random.choice([1, 0.5, 2, 0, -1])),
    }
    op = str(random.choice(list(OPERATIONS)))
    return {"op": op, **{k: values[k] for k in OPERATIONS[op]}}


def with_other_names(sketch: dict[str, Any], random: np.random.Generator) -> None:
    """Up to three things of a sketch taken away, or made to name others, or what is not there."""
    names = [*(e["id"] for e in sketch["entities"]), *(p["id"] for p in sketch["points"]), "O", "X", "Y", "gone"]
    for _ in range(int(random.integers(1, 4))):
        things = sketch[str(random.choice(["points", "entities", "constraints", "dimensions"]))]
        if not things:
            continue
        thing = things[int(random.integers(len(things)))]
        lists = [k for k, v in thing.items() if isinstance(v, list) and v and isinstance(v[0], str)]
        texts = [k for k in ("id", "start", "end", "center", "major") if isinstance(thing.get(k), str)]
        if random.random() < 0.4:
            things.remove(thing)
        elif lists and random.random() < 0.7:
            named = thing[str(random.choice(lists))]
            named[int(random.integers(len(named)))] = str(random.choice(names))
        elif texts:
            thing[str(random.choice(texts))] = str(random.choice(names))
