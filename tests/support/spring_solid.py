"""A coil as a solid."""

from __future__ import annotations

from tests.support.parts import XY


def spring(turns: float, wire: float, radius: float, pitch: float, off: float) -> dict:
    """A helix of round wire, ground flat ``off`` mm inside both of its ends."""
    planes = [
        {"kind": "datum", "id": name, "name": name, "how": {"by": "offset", "plane": XY, "distance": at}}
        for name, at in (("low", off), ("high", turns * pitch - off))
    ]
    return {
        "format": "leadline-part",
        "version": 1,
        "name": "Spring",
        "steps": [
            {
                "kind": "helix",
                "id": "helix",
                "name": "Line",
                "plane": XY,
                "radius": radius,
                "turns": turns,
                "pitch": pitch,
            },
            *planes,
            {
                "kind": "sweep",
                "id": "sweep",
                "name": "Wire",
                "path": {"step": "helix"},
                "profile": {"quick": "round", "width": wire},
                "cut_start": {"kind": "step", "step": "low"},
                "cut_end": {"kind": "step", "step": "high"},
            },
        ],
    }
