"""A small picture of a built part for the part list: ink and brass on paper, seen from a corner."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence

import numpy as np
from PIL import Image, ImageDraw

from leadline.core.geometry.mesh import DisplayMesh

SIZE = (480, 300)
SHARP = 2
LOOK_EVERY = 500  # triangles drawn from one look at whether to stop to the next
PAPER = (245, 241, 230)
INK = np.array([30.0, 43.0, 56.0])
STEEL = np.array([214.0, 222.0, 218.0])
VIEW = np.array([-0.55, -0.72, 0.42])
LIGHT = np.array([-0.25, -0.6, 0.76])


def draw_picture(meshes: Sequence[DisplayMesh], stopped: Callable[[], bool] = lambda: False) -> bytes | None:
    """PNG bytes; triangles far to near, back faces left out. None when it is ``stopped`` on the way."""
    look = VIEW / np.linalg.norm(VIEW)
    right = np.cross([0, 0, 1.0], look)
    right /= np.linalg.norm(right)
    up = np.cross(look, right)
    corners = np.concatenate([m.points[m.triangles] for m in meshes])
    shade = np.concatenate([m.normals[m.triangles].mean(axis=1) for m in meshes])
    facing = (shade @ look) > 0
    corners, shade = corners[facing], shade[facing]
    flat = np.stack([corners @ right, -(corners @ up)], axis=-1)
    low, high = flat.reshape(-1, 2).min(axis=0), flat.reshape(-1, 2).max(axis=0)
    size = np.array(SIZE) * SHARP
    scale = float((0.82 * size / np.maximum(high - low, 1e-9)).min())
    pixels = (flat - (low + high) / 2) * scale + size / 2
    image = Image.new("RGB", (int(size[0]), int(size[1])), PAPER)
    pen = ImageDraw.Draw(image)
    bright = 0.35 + 0.65 * np.clip(shade @ (LIGHT / np.linalg.norm(LIGHT)), 0, 1)
    colours = INK + (STEEL - INK) * bright[:, None]
    for n, i in enumerate(np.argsort((corners @ look).mean(axis=1))):
        if n % LOOK_EVERY == 0 and stopped():
            return None
        colour = tuple(int(c) for c in colours[i])
        pen.polygon([tuple(p) for p in pixels[i]], fill=colour, outline=colour)
    out = io.BytesIO()
    image.resize(SIZE, Image.Resampling.LANCZOS).save(out, "PNG", optimize=True)
    return out.getvalue()
