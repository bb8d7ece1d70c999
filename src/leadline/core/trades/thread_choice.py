"""Which thread fits a face: nominal size and pitch, by the series of ISO 261 and by what is left of the face for it."""

from __future__ import annotations

from leadline.core.problems import Problem, Remedy, mm
from leadline.core.trades.thread_forms import Form, Side, sizes

COARSE = {
    1.6: 0.35, 2.0: 0.4, 2.5: 0.45, 3.0: 0.5, 4.0: 0.7, 5.0: 0.8, 6.0: 1.0, 8.0: 1.25, 10.0: 1.5, 12.0: 1.75, 14.0: 2.0, 16.0: 2.0, 18.0: 2.5, 20.0: 2.5,
    22.0: 2.5, 24.0: 3.0, 27.0: 3.0, 30.0: 3.5, 33.0: 3.5, 36.0: 4.0, 39.0: 4.0, 42.0: 4.5, 45.0: 4.5, 48.0: 5.0, 52.0: 5.0, 56.0: 5.5, 60.0: 5.5, 64.0: 6.0,
}  # fmt: skip
"""Coarse pitches of ISO metric threads by their nominal diameter, mm (ISO 261, ISO 262)."""

BAR_UNDER = 0.2  # of the pitch, by which a bar may be thinner than its thread's major diameter
HOLE_UNDER, HOLE_OVER = 0.05, 0.35  # of the pitch, by which a hole may be narrower or wider than its thread's minor diameter


def chosen(form: Form, side: Side, diameter: float, size: float | None, pitch: float | None) -> tuple[float, float]:
    """The nominal diameter and the pitch (mm) of a thread in a face of a diameter, of which either may be asked for.

    Raises:
        Problem: no thread of the series fits the face, or the one that is asked for does not.
    """
    if pitch is None:
        if form != "metric":
            raise Problem("no-pitch", "A thread of this form needs its pitch.", "Give the pitch.", field="pitch")
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
        pitch = COARSE.get(size)
        if pitch is None:
            raise Problem("no-pitch", f"The coarse series has no size of {mm(size)}.", "Give the pitch, too.", field="pitch")
        if not fits("metric", side, diameter, size, pitch):
            raise _misfit("metric", side, diameter, size, pitch)
        return size, pitch
    found = [(d, p) for d, p in COARSE.items() if fits("metric", side, diameter, d, p)]
    if not found:
        raise Problem("no-size", f"No coarse metric thread fits a {'bar' if side == 'outside' else 'hole'} of Ø{mm(diameter)}.", "Give the pitch, or change the diameter.", field="size")
    return min(found, key=lambda f: abs((f[0] if side == "outside" else sizes("metric", *f).minor_nut) - diameter))


def _misfit(form: Form, side: Side, diameter: float, size: float, pitch: float) -> Problem:
    wanted = size if side == "outside" else sizes(form, size, pitch).minor_nut
    problem = Problem(
        "size-does-not-fit", f"The {'bar' if side == 'outside' else 'hole'} is Ø{mm(diameter)}; a thread of {mm(size)} needs Ø{mm(wanted)}.",
        "Change the diameter, or take the size that fits.", field="size",
    )  # fmt: skip
    return problem.mended(Remedy("Take the size that fits", {"size": None}))
