"""Which thread fits a face: nominal size and pitch, by the series of ISO 261 and by what is left of the face for it."""

from __future__ import annotations

from leadline.core.problems import Offer, Problem, mm
from leadline.core.trades.thread_forms import TAPER, Form, Side, sizes
from leadline.core.trades.thread_series import PIPES, SAME_PITCH, SAME_SIZE

COARSE = {
    1.0: 0.25,
    1.1: 0.25,
    1.2: 0.25,
    1.4: 0.3,
    1.6: 0.35,
    1.8: 0.35,
    2.0: 0.4,
    2.2: 0.45,
    2.5: 0.45,
    3.0: 0.5,
    3.5: 0.6,
    4.0: 0.7,
    4.5: 0.75,
    5.0: 0.8,
    6.0: 1.0,
    7.0: 1.0,
    8.0: 1.25,
    9.0: 1.25,
    10.0: 1.5,
    11.0: 1.5,
    12.0: 1.75,
    14.0: 2.0,
    16.0: 2.0,
    18.0: 2.5,
    20.0: 2.5,
    22.0: 2.5,
    24.0: 3.0,
    27.0: 3.0,
    30.0: 3.5,
    33.0: 3.5,
    36.0: 4.0,
    39.0: 4.0,
    42.0: 4.5,
    45.0: 4.5,
    48.0: 5.0,
    52.0: 5.0,
    56.0: 5.5,
    60.0: 5.5,
    64.0: 6.0,
    68.0: 6.0,
}
"""Coarse pitches of ISO metric threads by their nominal diameter, mm (ISO 261, ISO 262)."""

EXACT = 1e-6  # mm, within which a diameter is that of the series
BAR_UNDER = 0.2  # of the pitch, by which a bar may be thinner than its thread's major diameter
HOLE_UNDER, HOLE_OVER = (
    0.05,
    0.35,
)  # of the pitch, by which a hole may be narrower or wider than its thread's minor diameter


def chosen(form: Form, side: Side, diameter: float, size: float | None, pitch: float | None) -> tuple[float, float]:
    """The nominal diameter and the pitch (mm) of a thread in a face of a diameter, of which either may be asked for.

    Raises:
        Problem: no thread of the series fits the face, or the one that is asked for does not.
    """
    if pitch is None and form == "pipe":
        return _of_the_pipes(side, diameter, size)
    if pitch is None:
        if form != "metric":
            raise Problem("no-pitch", "A thread of this form needs its pitch.", "Give the pitch.", of="pitch")
        return _of_the_series(side, diameter, size)
    if size is None:
        basic = sizes(form, 1e3, pitch)  # how far the diameters are apart does not hang on the size
        return round(diameter if side == "outside" else diameter + basic.major - basic.minor_nut, 4), pitch
    if not fits(form, side, diameter, size, pitch):
        raise _misfit(form, side, diameter, size, pitch)
    return size, pitch


def fits(form: Form, side: Side, diameter: float, size: float, pitch: float) -> bool:
    """Whether a face of a diameter can have a thread."""
    if side == "outside":
        return -1e-6 <= size - diameter <= BAR_UNDER * pitch
    over = diameter - sizes(form, size, pitch).minor_nut
    return -HOLE_UNDER * pitch <= over <= HOLE_OVER * pitch


def _of_the_series(side: Side, diameter: float, size: float | None) -> tuple[float, float]:
    if size is not None:
        pitch = next((p for d, p in COARSE.items() if abs(d - size) < EXACT), None)
        if pitch is None:
            raise Problem(
                "no-pitch", f"The coarse series has no size of {mm(size)}.", "Give the pitch, too.", of="pitch"
            )
        if not fits("metric", side, diameter, size, pitch):
            raise _misfit("metric", side, diameter, size, pitch)
        return size, pitch
    found = [(d, p) for d, p in COARSE.items() if fits("metric", side, diameter, d, p)]
    if not found:
        raise Problem(
            "no-size",
            f"No coarse metric thread fits a {'bar' if side == 'outside' else 'hole'} of Ø{mm(diameter)}.",
            "Give the pitch, or change the diameter.",
            of="size",
        )
    return min(found, key=lambda f: abs((f[0] if side == "outside" else sizes("metric", *f).minor_nut) - diameter))


def _of_the_pipes(side: Side, diameter: float, size: float | None) -> tuple[float, float]:
    """The parallel pipe thread of a size, or that which fits a face best. Raises Problem."""
    found = [
        (p.major, p.pitch)
        for p in PIPES
        if (size is None or abs(p.major - size) < SAME_SIZE) and fits("pipe", side, diameter, p.major, p.pitch)
    ]
    if not found:
        raise Problem(
            "no-size",
            (
                f"No pipe thread {'of this size ' if size is not None else ''}fits a "
                f"{'bar' if side == 'outside' else 'hole'} of Ø{mm(diameter)}."
            ),
            "Give the pitch, or change the diameter.",
            of="size",
        )
    return min(found, key=lambda f: abs((f[0] if side == "outside" else sizes("pipe", *f).minor_nut) - diameter))


def taper_chosen(
    side: Side, ends: tuple[float, float], height: float, size: float | None, pitch: float | None
) -> tuple[float, float]:
    """The diameter at the gauge plane and the pitch (mm) of a taper pipe thread on a cone of 1:16 of these diameters at
    its ``ends``, a ``height`` apart.

    The gauge plane of a bar is its gauge length from the thin end, that of a hole its wide end, each to a turn (ISO
    7-1). A size that is none of the standard is at its gauge plane somewhere on the face.

    Raises:
        Problem: no thread of the standard fits, or the one that is asked for does not.
    """

    def gauge_at(major: float, own_pitch: float) -> float:
        """How far from the thin end of a bar, or into a hole from its wide end, the face has the size of the gauge
        plane.
        """
        if side == "outside":
            return (major - min(ends)) / (2 * TAPER)
        return (max(ends) - sizes("taper", major, own_pitch).minor_nut) / (2 * TAPER)

    rows = [
        p
        for p in PIPES
        if p.gauge is not None
        and (pitch is None or abs(p.pitch - pitch) < SAME_PITCH)
        and (size is None or abs(p.major - size) < SAME_SIZE)
    ]
    off = {p: gauge_at(p.major, p.pitch) - (p.gauge or 0.0 if side == "outside" else 0.0) for p in rows}
    best = min(rows, key=lambda p: abs(off[p]), default=None)
    if best is not None and abs(off[best]) <= best.pitch:
        return best.major, best.pitch
    if best is None and size is not None and pitch is not None and 0.0 <= gauge_at(size, pitch) <= height:
        return size, pitch
    at, wide = ("thin", min(ends)) if side == "outside" else ("wide", max(ends))
    wanted = ""
    if best is not None and side == "outside":
        wanted = f"; R {best.name} needs Ø{mm(best.major - 2 * TAPER * (best.gauge or 0.0))}"
    elif best is not None:
        wanted = f"; Rc {best.name} needs Ø{mm(sizes('taper', best.major, best.pitch).minor_nut)}"
    raise Problem(
        "size-does-not-fit",
        f"At its {at} end the face is Ø{mm(wide)}{wanted}.",
        "Change the diameter, or take the size that fits.",
        of="size",
    )


def _misfit(form: Form, side: Side, diameter: float, size: float, pitch: float) -> Problem:
    wanted = size if side == "outside" else sizes(form, size, pitch).minor_nut
    problem = Problem(
        "size-does-not-fit",
        f"The {'bar' if side == 'outside' else 'hole'} is Ø{mm(diameter)}; a thread of {mm(size)} needs Ø{mm(wanted)}.",
        "Change the diameter, or take the size that fits.",
        of="size",
    )
    return problem.mended(Offer("Take the size that fits", "size", None))
