"""What a shop asks of a thread: drill, wires, areas, lengths of engagement, angles."""

from __future__ import annotations

import math
from itertools import pairwise

from leadline.core.problems import Problem
from leadline.core.trades.thread_forms import ThreadSizes, Tooth

SHEAR_SHARE = 0.6  # of the tensile strength, at which a steel thread strips (VDI 2230 gives 0.6 to 0.65)


def tap_drill(sizes: ThreadSizes, pitch: float) -> float:
    """The drill before tapping, mm: major diameter less the pitch, the usual rule for metric and unified threads."""
    return sizes.major_nut - pitch


def lead_angle(diameter: float, lead: float) -> float:
    """The angle (rad) of a helix of this ``lead`` a turn at a diameter against the plane square to the axis."""
    return math.atan(lead / (math.pi * diameter))


def best_wire(pitch: float, half_angle: float) -> float:
    """The wire that touches both flanks at the pitch diameter, P / (2 cos α)."""
    return pitch / (2 * math.cos(half_angle))


def over_wires(pitch_diameter: float, pitch: float, wire: float, half_angle: float) -> float:
    """The size over three wires, d2 + W (1 + 1/sin α) - P/2 cot α, for symmetrical flanks of half angle α; the helix
    angle is left out of it.
    """
    return pitch_diameter + wire * (1 + 1 / math.sin(half_angle)) - pitch / (2 * math.tan(half_angle))


def stress_area(sizes: ThreadSizes) -> float:
    """π/4 ((d2 + d3)/2)², mm² (ISO 898-1)."""
    return math.pi / 4 * ((sizes.pitch_diameter + sizes.minor_bolt) / 2) ** 2


def unified_stress_area(major: float, pitch: float) -> float:
    """π/4 (d - 0.9743 P)², mm² (ASME B1.1, appendix B)."""
    return math.pi / 4 * (major - 0.9743 * pitch) ** 2


def shear_areas(sizes: ThreadSizes, pitch: float, half_angle: float) -> tuple[float, float]:
    """The areas (mm² for each mm of engagement) over which the bolt's and the nut's threads strip, at basic sizes (VDI
    2230, 5.5.5).
    """
    t = math.tan(half_angle)
    bolt = math.pi / pitch * sizes.minor_nut * (pitch / 2 + (sizes.pitch_diameter - sizes.minor_nut) * t)
    nut = math.pi / pitch * sizes.major * (pitch / 2 + (sizes.major - sizes.pitch_diameter) * t)
    return bolt, nut


def engagement(
    sizes: ThreadSizes, pitch: float, half_angle: float, area: float, bolt_strength: float, nut_strength: float
) -> float:
    """The length of engagement (mm) at which neither thread strips before a bolt of a stress ``area`` (mm²) breaks.

    Strengths in MPa.

    Raises:
        Problem: a strength is not above zero.
    """
    if bolt_strength <= 0 or nut_strength <= 0:
        raise Problem("bad-size", "A strength is above zero.", "Give it in MPa.", of="strength")
    bolt, nut = shear_areas(sizes, pitch, half_angle)
    force = bolt_strength * area
    return force / (SHEAR_SHARE * min(bolt * bolt_strength, nut * nut_strength))


def locks_itself(diameter: float, lead: float, half_angle: float, friction: float) -> bool:
    """Whether a load does not turn the thread back: tan of the lead angle under µ / cos α."""
    return math.tan(lead_angle(diameter, lead)) < friction / math.cos(half_angle)


def ridge_volume(tooth: Tooth) -> float:
    """What one turn of the tooth holds above its root, mm³: π times the integral of r² - root² along the axis."""
    above = sum((b - a) * (p * p + p * q + q * q) / 3 for (a, p), (b, q) in pairwise(tooth.corners))
    span = tooth.corners[-1][0] - tooth.corners[0][0]
    edge = tooth.corners[0][1]
    return math.pi * (above + (tooth.pitch - span) * edge * edge - tooth.pitch * tooth.root**2)
