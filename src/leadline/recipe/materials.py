"""Densities of the materials that a part can be of, kg/m³: usual handbook values."""

from __future__ import annotations

from typing import Literal

Material = Literal["steel", "stainless", "aluminium", "brass", "copper", "polyethylene", "pvc", "rubber"]

DENSITY: dict[Material, float] = {
    "steel": 7850.0,
    "stainless": 7900.0,
    "aluminium": 2700.0,
    "brass": 8500.0,
    "copper": 8960.0,
    "polyethylene": 950.0,
    "pvc": 1400.0,
    "rubber": 1200.0,
}
