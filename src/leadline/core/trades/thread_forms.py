"""Thread profiles in the axial plane, and their diameters.

A profile is told over one pitch along the axis: the height of the thread above its root, by straight lines between
corners. Sources: ISO 68-1 (metric; unified threads have the same), ISO 2904 (trapezoidal), ISO 228-1 (parallel pipe,
55°), ISO 7-1 (taper pipe, the same profile on a cone of 1:16), DIN 513-1 (buttress), DIN 405-1 (round knuckle). Of the
arcs of these standards (metric root H/6 = 0.14434 P, pipe 0.137329 P, buttress root 0.12427 P, knuckle 0.23851 P
outside, 0.25597 P and 0.22105 P inside) each is the one that fills the whole width of its root or crest, tangent to
both flanks; so they are told by that alone.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from leadline.core.problems import Problem, mm

Form = Literal["metric", "unified", "trapezoidal", "pipe", "buttress", "square", "knuckle", "taper"]
Side = Literal["outside", "inside"]

HALF_ANGLE = math.radians(30)  # of metric and unified flanks
TRAPEZOID = math.radians(15)
KNUCKLE = math.radians(15)
KNUCKLE_CLEARANCE = (
    0.05  # of the pitch: by how much of radius a nut's root is wider, its crest too, than the bolt's, DIN 405-1
)
PIPE = math.radians(27.5)
PIPE_DEPTH = 0.640327  # times the pitch, ISO 228-1
TAPER = 1 / 32  # of radius for each mm along the axis, of a taper pipe thread: 1:16 of diameter, ISO 7-1
BUTTRESS_DEPTH, BUTTRESS_ENGAGED = 0.86777, 0.75  # times the pitch, DIN 513-1
BUTTRESS_BACK, BUTTRESS_FRONT = math.radians(30), math.radians(3)
STEEP = 1e-3  # of the pitch: what a square flank runs along the axis, as no two radii may stand at one place


@dataclass(frozen=True)
class ThreadSizes:
    """The basic diameters (mm) of a thread: ``major`` d, ``pitch_diameter`` d2, ``minor_nut`` D1 and ``minor_bolt`` d3.

    ``major_nut`` is the diameter of the nut's root (D, or D4 of trapezoidal threads).
    """

    major: float
    pitch_diameter: float
    minor_nut: float
    minor_bolt: float
    major_nut: float


@dataclass(frozen=True)
class Tooth:
    """A tooth in the axial plane over one pitch: corners (axial place, radius), from the middle of a groove to the
    middle of the next.

    ``root`` and ``crest`` are its least and greatest radius. What is cut out of an outside thread lies above it. Where
    its least radius is an arc over the whole width there it has a ``round_root``, where its greatest is, a
    ``round_crest``.
    """

    corners: tuple[tuple[float, float], ...]
    pitch: float
    round_root: bool = False
    round_crest: bool = False

    @property
    def root(self) -> float:
        return min(r for _, r in self.corners)

    @property
    def crest(self) -> float:
        return max(r for _, r in self.corners)


def trapezoid_clearance(pitch: float) -> float:
    """ac of ISO 2904: the clearance at crest and root of a trapezoidal thread."""
    return 0.15 if pitch <= 1.5 else 0.25 if pitch <= 5 else 0.5 if pitch <= 12 else 1.0


def sizes(form: Form, major: float, pitch: float) -> ThreadSizes:
    """The basic diameters of a thread.

    Raises:
        Problem: the pitch is not above zero, or so large that nothing is left of the core.
    """
    if not (pitch > 0 and major > 0):
        raise Problem("bad-size", "A thread needs a diameter and a pitch above zero.", "Give both.", of="pitch")
    if form in ("metric", "unified"):
        found = ThreadSizes(major, major - 0.649519 * pitch, major - 1.082532 * pitch, major - 1.226869 * pitch, major)
    elif form == "trapezoidal":
        ac = trapezoid_clearance(pitch)
        found = ThreadSizes(major, major - pitch / 2, major - pitch, major - pitch - 2 * ac, major + 2 * ac)
    elif form in ("pipe", "taper"):
        depth = PIPE_DEPTH * pitch
        found = ThreadSizes(major, major - depth, major - 2 * depth, major - 2 * depth, major)
    elif form == "buttress":
        found = ThreadSizes(
            major,
            major - BUTTRESS_ENGAGED * pitch,
            major - 2 * BUTTRESS_ENGAGED * pitch,
            major - 2 * BUTTRESS_DEPTH * pitch,
            major,
        )
    elif form == "knuckle":
        clear = 2 * KNUCKLE_CLEARANCE * pitch
        found = ThreadSizes(major, major - pitch / 2, major - pitch + clear, major - pitch, major + clear)
    else:
        found = ThreadSizes(major, major - pitch / 2, major - pitch, major - pitch, major)
    if found.minor_bolt <= 0.1 * major:
        raise Problem(
            "pitch-too-large",
            f"A pitch of {mm(pitch)} leaves no core of {mm(major)}.",
            "Give a smaller pitch, or a larger diameter.",
            of="pitch",
        )
    return found


def tooth(
    form: Form,
    side: Side,
    major: float,
    pitch: float,
    face: float | None = None,
    play: float = 0.0,
    rounded: bool = False,
) -> Tooth:
    """The tooth of a bolt, or what is left between the turns of a nut's groove (the nut's own material lies above it).

    ``face`` is the radius (mm) of the bar or of the hole that it is cut into, by default that of the basic size;
    ``play`` by how much (mm of radius) a bolt is thinner, a nut wider than that. ``rounded`` it has the arcs of its
    standard; a knuckle thread always has.

    Raises:
        Problem: as ``sizes`` does, or the face is so far from its size that the flanks meet.
    """
    size = sizes(form, major, pitch)
    away = -play if side == "outside" else play
    if side == "outside":
        root, crest = size.minor_bolt / 2 + away, size.major / 2 if face is None else face
    else:
        root, crest = size.minor_nut / 2 if face is None else face, size.major_nut / 2 + away
    middle = size.pitch_diameter / 2 + away
    if form == "square":
        lean, back = (STEEP * pitch / (crest - root),) * 2
    elif form == "buttress":
        lean, back = math.tan(BUTTRESS_FRONT), math.tan(BUTTRESS_BACK)
    else:
        lean, back = (math.tan(half_angle(form)),) * 2
    flanked = _flanked(pitch, root, crest, middle, lean, back)
    everywhere = form == "knuckle" or (rounded and form in ("pipe", "taper"))
    bolt_root = rounded and side == "outside" and form in ("metric", "unified", "buttress")
    return replace(flanked, round_root=everywhere or bolt_root, round_crest=everywhere)


def half_angle(form: Form) -> float:
    """The angle (rad) of a symmetrical form's flanks against the plane square to the axis; of a buttress the greater
    one.
    """
    return {
        "trapezoidal": TRAPEZOID,
        "pipe": PIPE,
        "taper": PIPE,
        "knuckle": KNUCKLE,
        "buttress": BUTTRESS_BACK,
        "square": math.atan(STEEP),
    }.get(form, HALF_ANGLE)


def _flanked(pitch: float, root: float, crest: float, middle: float, first: float, second: float) -> Tooth:
    """A tooth of two straight flanks, each told by its run along the axis for each mm of height; tooth and groove are
    equally wide at the ``middle`` radius.
    """
    groove = pitch / 2 - (middle - root) * (first + second)
    low = groove / 2, pitch - groove / 2
    high = low[0] + (crest - root) * first, low[1] - (crest - root) * second
    if groove < 0 or high[1] <= high[0]:
        raise Problem(
            "bad-tooth",
            "The flanks of the tooth meet before its crest or its root.",
            "Give it less depth, or more pitch.",
            of="form",
        )
    return Tooth(((low[0], root), (high[0], crest), (high[1], crest), (low[1], root)), pitch)
