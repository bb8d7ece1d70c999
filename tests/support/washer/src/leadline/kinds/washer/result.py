"""What views are told of a washer."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import SweptResult


class RingShown(TypedDict):
    """How wide and thick the ring is, mm."""

    rim: float
    thickness: float


class WasherResult(SweptResult, total=False):
    ring: RingShown
