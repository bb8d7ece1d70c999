"""Threads as parts."""

from tests.support.parts import part


def document(*steps: dict):
    return part(
        {"format": "leadline-part", "version": 1, "name": "Threads", "units": "mm", "values": [], "steps": list(steps)}
    )


def axis(length: float = 30) -> dict:
    points = [{"id": f"q{i}", "at": {"by": "place", "x": 0, "y": 0, "z": z}} for i, z in enumerate((0, length))]
    return {"kind": "route", "id": "axis", "name": "Axis", "radius": 0, "points": points}


def rod(width: float = 10, **more) -> dict:
    return {
        "kind": "sweep",
        "id": "rod",
        "name": "Rod",
        "path": {"step": "axis"},
        "profile": {"quick": "round", "width": width, **more},
    }


def on(face: str = "side/round/q0-q1", **fields) -> dict:
    return {"kind": "threaded", "id": "t", "name": "Thread", "face": {"step": "rod", "face": f"rod/{face}"}, **fields}
