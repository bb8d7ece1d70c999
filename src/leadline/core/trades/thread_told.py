"""All that is told of a thread on a face: what it is, its sizes and limits, and the shop's numbers."""

from __future__ import annotations

from dataclasses import dataclass

from leadline.core.problems import Message, Problem, mm
from leadline.core.trades import thread_numbers as numbers
from leadline.core.trades.thread_forms import Form, Side, ThreadSizes, half_angle, sizes
from leadline.core.trades.thread_limits import ThreadLimits, limits
from leadline.core.trades.thread_series import pipe_size, unified_title
from leadline.core.trades.thread_unified import unified_limits
from leadline.core.units import LengthUnit, format_length

SOURCES = {
    "metric": "ISO 68-1, ISO 965-1",
    "unified": "ASME B1.1",
    "trapezoidal": "ISO 2904",
    "pipe": "ISO 228-1",
    "taper": "ISO 7-1",
    "buttress": "DIN 513-1",
    "square": "",
    "knuckle": "DIN 405-1",
    "own": "",
}


ROUNDED = 5e-4  # mm, to which limits are told


@dataclass(frozen=True)
class ThreadTold:
    """A thread: its ``form`` ("own" of a groove that is typed in), nominal ``major`` and ``pitch`` (mm), turns,
    threaded ``length`` and what it ``took`` (mm³).

    ``sizes`` and ``limits`` are None where there are none; ``strengths`` of bolt and nut are in MPa.
    """

    form: str
    side: Side
    major: float
    pitch: float
    starts: int
    left: bool
    tolerance: str
    face_diameter: float
    groove_depth: float
    turns: float
    length: float
    took: float
    sizes: ThreadSizes | None
    limits: ThreadLimits | None
    friction: float
    strengths: tuple[float, float]
    mate: str = ""
    mate_limits: ThreadLimits | None = None

    @property
    def clearance(self) -> tuple[float, float] | None:
        """The least and the greatest by which the pitch diameter of nut and bolt differ, mm, this thread and its mate
        anywhere in their limits; None without limits.
        """
        if self.limits is None or self.mate_limits is None:
            return None
        own, other = self.limits.pitch_diameter, self.mate_limits.pitch_diameter
        bolt, nut = (own, other) if self.side == "outside" else (other, own)
        return nut.least - bolt.most, nut.most - bolt.least

    @property
    def lead(self) -> float:
        return self.pitch * self.starts

    @property
    def mean_diameter(self) -> float:
        """Where tooth and groove are equally wide, of a groove of one's own halfway down."""
        if self.sizes is not None:
            return self.sizes.pitch_diameter
        return self.face_diameter + (self.groove_depth if self.side == "inside" else -self.groove_depth)

    @property
    def half_angle(self) -> float:
        return half_angle(self.form) if self.form != "own" else 0.0  # type: ignore[arg-type]  # all others are forms

    def title(self, unit: LengthUnit) -> str:
        """As a drawing writes it, e.g. M10 × 1.5 LH - 6g."""
        named = self._named
        if named is not None:
            own = f"{named}{' LH' if self.left else ''}"
            return (
                own
                if not self.tolerance
                else f"{own}-{self.tolerance}"
                if self.form == "unified"
                else f"{own} - {self.tolerance}"
            )
        size = format_length(self.major, unit).removesuffix(" mm")
        first = {
            "metric": f"M{size}",
            "trapezoidal": f"Tr{size}",
            "buttress": f"S{size}",
            "pipe": f"G {size}",
            "taper": f"R {size}" if self.side == "outside" else f"Rc {size}",
            "unified": f"UN {size}",
            "knuckle": f"Rd {size}",
        }.get(self.form, f"Ø{size}")
        pitch = format_length(self.lead, unit).removesuffix(" mm")
        many = f" P{format_length(self.pitch, unit).removesuffix(' mm')}" if self.starts > 1 else ""
        return f"{first} × {pitch}{many}{' LH' if self.left else ''}{f' - {self.tolerance}' if self.tolerance else ''}"

    @property
    def _named(self) -> str | None:
        """What a thread of one start is called that has a name for its size."""
        if self.starts > 1:
            return None
        if self.form == "unified":
            return unified_title(self.major, self.pitch)
        known = pipe_size(self.major, self.pitch) if self.form in ("pipe", "taper") else None
        if known is None:
            return None
        return f"{'G' if self.form == 'pipe' else 'R' if self.side == 'outside' else 'Rc'} {known.name}"

    @property
    def lead_angle(self) -> float:
        return numbers.lead_angle(self.mean_diameter, self.lead)

    @property
    def locks_itself(self) -> bool:
        return numbers.locks_itself(self.mean_diameter, self.lead, self.half_angle, self.friction)

    @property
    def wire(self) -> float | None:
        """The best wire to measure it over, of symmetrical flanks that lean."""
        return numbers.best_wire(self.pitch, self.half_angle) if self._measured else None

    @property
    def over_wires(self) -> float | None:
        if self.sizes is None or not self._measured:
            return None
        at = self.sizes.pitch_diameter if self.limits is None else self.limits.pitch_diameter.mean
        return numbers.over_wires(at, self.pitch, numbers.best_wire(self.pitch, self.half_angle), self.half_angle)

    @property
    def _measured(self) -> bool:
        return self.side == "outside" and self.form in ("metric", "unified", "trapezoidal", "pipe")

    @property
    def tap_drill(self) -> float | None:
        return (
            numbers.tap_drill(self.sizes, self.pitch)
            if self.sizes is not None and self.side == "inside" and self.form in ("metric", "unified")
            else None
        )

    @property
    def stress_area(self) -> float | None:
        if self.sizes is None or self.form not in ("metric", "unified"):
            return None
        return (
            numbers.stress_area(self.sizes)
            if self.form == "metric"
            else numbers.unified_stress_area(self.major, self.pitch)
        )

    @property
    def engagement(self) -> float | None:
        area = self.stress_area
        if self.sizes is None or area is None:
            return None
        return numbers.engagement(self.sizes, self.pitch, self.half_angle, area, *self.strengths)


def limits_of(form: str, side: Side, major: float, pitch: float, tolerance: str) -> ThreadLimits | None:
    """The limits of a class, None where none is asked for.

    Raises:
        Problem: the form has none here, the class is that of the other side, or as ``limits`` does.
    """
    if not tolerance:
        return None
    if form not in ("metric", "unified"):
        raise Problem(
            "no-tolerances",
            "There are no limits of size for this form here.",
            "Leave the class away.",
            of="tolerance",
        )
    if form == "unified":
        if tolerance[-1:] != ("B" if side == "inside" else "A"):
            raise Problem(
                "bad-class",
                f"“{tolerance}” is no class of {'nuts' if side == 'inside' else 'bolts'} of a unified thread.",
                f"Give one such as {'2B' if side == 'inside' else '2A'}.",
                of="tolerance",
            )
        return unified_limits(major, pitch, tolerance)
    if tolerance[-1:].isupper() != (side == "inside"):
        raise Problem(
            "bad-class",
            f"“{tolerance}” is a class of {'bolts' if side == 'inside' else 'nuts'}.",
            "Give a capital letter for a nut, a small one for a bolt.",
            of="tolerance",
        )
    return limits(major, pitch, tolerance)


def off_class(told: ThreadTold) -> Message | None:
    """What is said where a bar or a hole is not as wide as its thread's class asks for."""
    if told.limits is None:
        return None
    wanted, found = told.limits.crest, told.face_diameter
    if wanted.least - ROUNDED <= found <= wanted.most + ROUNDED:
        return None
    return Message(
        "warning",
        "off-class",
        (
            f"The {'bar' if told.side == 'outside' else 'hole'} is Ø{mm(found, 5)}; {told.tolerance} asks for "
            f"Ø{mm(wanted.least, 5)} to Ø{mm(wanted.most, 5)}."
        ),
        f"Make it Ø{mm(wanted.mean, 5)}, the middle of these.",
        {"of": "tolerance"},
    )


def mate_of(form: str, side: Side, tolerance: str, mate: str) -> str:
    """The class of the thread that goes with one of a class: what is said, else the usual one; none where that has
    none.
    """
    bolt, nut = (f"{tolerance[:1]}A", f"{tolerance[:1]}B") if form == "unified" else ("6g", "6H")
    usual = nut if side == "outside" else bolt
    return (mate or usual) if tolerance else ""


def play_of(form: Form, side: Side, major: float, pitch: float, found: ThreadLimits | None) -> float:
    """By how much (mm of radius) a bolt is thinner, or a nut wider, at the middle of its pitch diameter's limits than
    at the basic size.

    Raises Problem without limits.
    """
    if found is None:
        raise Problem(
            "no-class",
            f"The middle of the limits of {mm(major)} is asked for, but no class.",
            "Give a class such as 6g or 6H.",
            of="tolerance",
        )
    basic = sizes(form, major, pitch).pitch_diameter
    return (
        abs(found.pitch_diameter.mean - basic)
        / 2
        * (1 if (found.pitch_diameter.mean < basic) == (side == "outside") else -1)
    )
