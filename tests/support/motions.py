"""Motions of sections along paths."""

from __future__ import annotations

import numpy as np

from leadline.core.paths.path import Path
from leadline.core.paths.pieces import EllipseCurve, LinePiece, SplinePiece
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.rails import RailMap, RailTrack
from tests.support.shapes import (
    X,
    Z,
)


def railed(path: Path, rails: list[Path], anchors: list[tuple[float, float]], use: str = "stretch", **more) -> Motion:
    bare = Motion(path, **more)
    f = bare.frames(np.array([bare.home]))
    near = f.at(np.array(anchors))[0]
    tracks = tuple(RailTrack(f"rail {i}", r, path, bare.frames, bare.home, near[i]) for i, r in enumerate(rails))
    return Motion(path, rails=RailMap(tracks, np.array(anchors, dtype=float), use), **more)


def ellipse(a: float, b: float, start: float, sweep: float, across) -> Path:
    return Path([SplinePiece(EllipseCurve(np.zeros(3), a * X, b * across, start, sweep), "rail")])


def zigzag(closed: bool = False) -> Path:
    corners = np.array([[0, 0, 0], [80, 0, 0], [80, 60, 0], [20, 90, 0], [0, 40, 0.0]])
    ends = list(corners[1:]) + ([corners[0]] if closed else [])
    return Path([LinePiece(a, b, f"l{i}") for i, (a, b) in enumerate(zip(corners, ends, strict=False))], closed, Z)
