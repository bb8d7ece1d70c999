"""Parts for the tests: a straight or bent bar, in the form of a part file."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from leadline.recipe import rooms
from leadline.recipe.build import Memory
from leadline.recipe.part_file import part_from, read_part
from tests.support.shapes import Draw

DEMO = Path(__file__).resolve().parents[2] / "demo"


def bar(
    length: Any = 100, diameter: Any = 10, values: list[dict[str, Any]] | None = None, **sweep: Any
) -> dict[str, Any]:
    """A round bar along x: path sketch, plane at its start, profile tied to the path, sweep."""
    path = Draw()
    path.point("p1", 0, 0)
    path.point("p2", 100, 0)
    path.line("e1", "p1", "p2")
    path.hold("coincident", "p1", "O")
    path.hold("horizontal", "e1")
    path.size("length", 0, "e1")
    path.data["dimensions"][0]["value"] = length
    profile = Draw()
    profile.point("c", 0, 0)
    profile.circle("e1", "c", 5)
    profile.hold("on_path", "c", path="path")
    profile.size("diameter", 0, "e1")
    profile.data["dimensions"][0]["value"] = diameter
    return {
        "format": "leadline-part",
        "version": 1,
        "name": "Bar",
        "units": "mm",
        "values": values or [],
        "steps": [
            {
                "kind": "sketch",
                "id": "path",
                "name": "Path",
                "plane": {"kind": "principal", "plane": "XZ"},
                "sketch": path.data,
            },
            {"kind": "plane", "id": "plane", "name": "Plane", "path": {"step": "path"}},
            {
                "kind": "sketch",
                "id": "profile",
                "name": "Profile",
                "plane": {"kind": "step", "step": "plane"},
                "sketch": profile.data,
            },
            {
                "kind": "sweep",
                "id": "sweep",
                "name": "Sweep",
                "path": {"step": "path"},
                "profile": {"step": "profile"},
                **sweep,
            },
        ],
    }


def step(document: dict[str, Any], step_id: str) -> dict[str, Any]:
    return next(s for s in document["steps"] if s["id"] == step_id)


SHARED = Memory(limit=5000, faces=100_000)
"""What tests of one process have built of parts that many of them look at: each of their steps is built once."""


def demo(name: str) -> Any:
    return read_part((DEMO / f"{name}.json").read_bytes())


def part(document: dict[str, Any]) -> Any:
    return part_from(document)


XY, XZ, YZ = ({"kind": "principal", "plane": p} for p in ("XY", "XZ", "YZ"))


def sketch(name: str, plane: dict[str, Any], draw: Draw) -> dict[str, Any]:
    return {
        "kind": "sketch",
        "id": name,
        "name": name.capitalize(),
        "plane": plane,
        "sketch": draw.sketch().model_dump(mode="json"),
    }


def polyline(*points: tuple[float, float], closed: bool = False) -> Draw:
    d = Draw()
    for i, (x, y) in enumerate(points):
        d.point(f"p{i}", x, y)
    for i in range(len(points) - (0 if closed else 1)):
        d.line(f"e{i}", f"p{i}", f"p{(i + 1) % len(points)}")
    return d


def circle(radius: float, x: float = 0, y: float = 0) -> Draw:
    d = Draw()
    d.point("c", x, y)
    d.circle("ring", "c", radius)
    return d


def curve(*points: tuple[float, float]) -> Draw:
    d = Draw()
    for i, (x, y) in enumerate(points):
        d.point(f"p{i}", x, y)
    d.spline("s", *(f"p{i}" for i in range(len(points))))
    return d


def long_sketches(count: int) -> list[dict[str, Any]]:
    """Sketches with nearly as many points as there may be, a third of a megabyte each, called s0, s1 ..."""
    points = [{"id": f"p{i}", "x": i * 1.0625, "y": (i % 7) * 1.3125} for i in range(2900)]
    lines = [{"kind": "line", "id": f"e{i}", "start": f"p{i}", "end": f"p{i + 1}"} for i in range(2899)]
    return [
        {"kind": "sketch", "id": f"s{k}", "name": "Long", "plane": XY, "sketch": {"points": points, "entities": lines}}
        for k in range(count)
    ]


class Shelf(dict):
    """A store in memory that counts what is put into it."""

    def __init__(self):
        super().__init__()
        self.puts = []

    def put(self, key, data):
        self.puts.append(key)
        self[key] = data


def build_otherwise(monkeypatch, builder, *names):
    """Have steps of some kinds built by another builder than that of their room."""
    usual = rooms.builder_of
    monkeypatch.setattr("leadline.recipe.build.builder_of", lambda kind: builder if kind.name in names else usual(kind))
