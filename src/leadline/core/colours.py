"""Colours as they are written, "#rrggbb"."""

from __future__ import annotations


def red_green_blue(colour: str) -> tuple[float, float, float]:
    """Its three shares, 0 to 1, as they are written (sRGB, IEC 61966-2-1)."""
    red, green, blue = (int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return red, green, blue
