"""The spring step: its wire as a path, what is told of it, and its solid."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.quick import round_section
from leadline.core.paths.path import Path
from leadline.core.problems import Problem, mm
from leadline.core.solids.trimming import EndCut
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.placing import bring_to_path
from leadline.core.trades import spring_numbers, spring_wire, springs
from leadline.core.trades.closing import Closing
from leadline.core.trades.spring_numbers import Compression, LoadAsked, SpringNumbers
from leadline.core.trades.spring_spread import Play
from leadline.core.trades.spring_wire import Seat
from leadline.core.trades.springs import WIRES, Coils, Wire
from leadline.core.units import format_length
from leadline.kinds.sprung.drawn import dimensions_of
from leadline.kinds.sprung.model import AtAngle, AtForce, AtLength, OwnWire, SprungStep
from leadline.kinds.sprung.result import SpringShown, SprungResult
from leadline.kinds.sprung.spreading import play_of, with_spread
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.judging import judge, refuse_errors
from leadline.recipe.path_report import check_turns
from leadline.recipe.products import Product, Sprung
from leadline.recipe.results import Report
from leadline.recipe.section_report import swept

FEWEST_TURNS = 0.1
EXACT = Play()


@dataclass(frozen=True)
class _Sizes:
    """The step's numbers, evaluated: mean diameters at both ends, or at both and in the middle, mm."""

    wire: float
    mean: tuple[float, ...]
    active: float
    total: float

    @property
    def coils(self) -> Coils:
        return Coils(self.wire, spring_wire.spread(self.mean)[1], self.active, self.total)


@dataclass(frozen=True)
class _Made:
    """A spring: its wire's path as it is drawn, what is told of it, the greatest mean diameter and the heights over its
    seat between which it stands as it is drawn, and whether its ends are ground off there.
    """

    path: Path
    numbers: SpringNumbers
    widest: float = 0.0
    heights: tuple[float, float] | None = None
    ground: bool = False


def build(context: Context, step: SprungStep, report: Report) -> Product:
    """Raises Problem when the spring cannot be coiled, or a load is none that it can have."""
    _check_room(context, step)
    if step.along is not None:
        made = _free(context, step)
        return _finished(context, step, report, made, f"{made.numbers.coils.total:.3g} turns on average", None)
    sizes = _sizes(context, step)
    seat = Seat(context.plane(step.plane), context.value(step.start_angle), step.hand)
    made = {"compression": _compression, "extension": _extension, "torsion": _torsion}[step.duty](
        context, step, sizes, seat
    )
    play = play_of(context, step)
    if play is not None:
        made = replace(
            made,
            numbers=with_spread(
                made.numbers, play, step.measured, lambda by: _coiled(context, step, by), wire_of(context, step)
            ),
        )
    return _finished(context, step, report, made, f"{sizes.total:.4g} turns", seat.plane, _ground(step, seat, made))


def _finished(
    context: Context,
    step: SprungStep,
    report: Report,
    made: _Made,
    turns: str,
    seat: Plane | None,
    cuts: Sequence[EndCut] = (),
) -> Product:
    """A spring's report, and its solid."""
    numbers = replace(
        made.numbers,
        hand=step.hand,
        ends=_ends(step),
        material=step.material if isinstance(step.material, str) else "own",
    )
    section = round_section(numbers.coils.wire)
    placed = bring_to_path(made.path, [section], np.zeros(2), 0.0, 0.0)
    motion = Motion(made.path, axes=placed.axes)
    title = f"Ø{format_length(numbers.coils.wire, context.scope.unit)}"
    figure = (
        f"{title.split()[0]} × {format_length(numbers.coils.mean, context.scope.unit)}, {turns}, "
        f"{numbers.rate:.4g} {'N mm/°' if numbers.duty == 'torsion' else 'N/mm'}"
    )
    messages = [*judge(motion, placed.regions, False, context.moving), *numbers.messages]
    plan = swept(step.id, motion, placed.regions, figure, title, None, messages, moving=context.moving)
    shown: SprungResult = {**plan.shown, "spring": _shown(numbers)}
    product = Sprung.of(
        replace(plan, shown=shown),
        numbers,
        dimensions_of(made.path, numbers.coils.wire, seat, made.widest + numbers.coils.wire, made.heights),
    )
    report.figure, report.data, report.messages = figure, shown, messages
    if context.quick:
        return product
    refuse_errors(messages)
    return finish(context, step, product, report, cuts=cuts)


def _coiled(context: Context, step: SprungStep, by: Play) -> tuple[Coils, Closing | None]:
    """A spring whose sizes are so far off: its coils, and how it closes where it is pressed. Raises Problem."""
    sizes = _sizes(context, step, by)
    if step.duty != "compression":
        return sizes.coils, None
    free = context.value(step.free) + by.free
    return sizes.coils, _closing(step, sizes, _coil(context, step, sizes, free), free, wire_of(context, step))


def _closing(step: SprungStep, sizes: _Sizes, coil: spring_wire.Coil, free: float, wire: Wire) -> Closing:
    """How a spring that is pressed closes: as EN 13906-1 tells its solid length where its turns are all of one
    diameter, else by its turns.
    """
    even = len({round(mean / sizes.wire, 12) for mean in sizes.mean}) == 1
    return coil.closing(free, wire.shear_modulus, springs.solid_length(sizes.coils, step.ends) if even else None)


def _sizes(context: Context, step: SprungStep, by: Play = EXACT) -> _Sizes:
    """The step's sizes, each off ``by`` so much. Raises Problem."""
    wire = context.value(step.wire) + by.wire
    active = context.value(step.turns) + by.turns
    closed = context.value(step.end_turns) if step.duty == "compression" and step.ends != "open" else 0.0
    first = context.value(step.diameter)
    end, middle = (
        context.given(v) if step.duty == "compression" else None for v in (step.end_diameter, step.middle_diameter)
    )
    given = {
        "diameter": first,
        **({} if middle is None else {"middle_diameter": middle}),
        "end_diameter": first if end is None else end,
    }
    if active < FEWEST_TURNS:
        raise Problem(
            "bad-size", f"A spring of {active:.3g} turns is none.", f"Give {FEWEST_TURNS:g} or more.", field="turns"
        )
    check_turns(active + 2 * closed, "spring")
    off = {"mean": 0.0, "outer": -wire, "inner": wire}[step.measured]
    mean = {name: size + off + by.diameter for name, size in given.items()}
    for name, size in mean.items():
        if size <= wire:
            raise Problem(
                "wire-too-thick",
                f"A wire of {mm(wire)} fills a coil of {mm(size)} mean diameter.",
                "Give a larger diameter, or a thinner wire.",
                field=name,
            )
    narrowest = spring_wire.spread(tuple(mean.values()))[0]
    if narrowest <= wire:
        raise Problem(
            "wire-too-thick",
            f"Between its middle and an end the coil narrows to {mm(narrowest)}, and a wire of {mm(wire)} fills it.",
            "Bring the three diameters nearer to each other.",
            field="middle_diameter",
        )
    sizes = _Sizes(wire, tuple(mean.values()), active, active + 2 * closed)
    _ = sizes.coils  # refuses what is no coil
    return sizes


def wire_of(context: Context, step: SprungStep) -> Wire:
    """The wire's material. Raises Problem when a number of it is none."""
    own = step.material
    if not isinstance(own, OwnWire):
        return WIRES[own]
    shear, elastic, strength, density = (context.value(v) for v in (own.shear, own.elastic, own.strength, own.density))
    return Wire(shear, elastic, density, strength, 0.0)


def _loads(context: Context, step: SprungStep) -> list[LoadAsked]:
    found = []
    for load in step.loads:
        if isinstance(load, AtLength):
            found.append(LoadAsked("length", context.value(load.length)))
        elif isinstance(load, AtForce):
            found.append(LoadAsked("force", context.value(load.force)))
        else:
            assert isinstance(load, AtAngle)
            found.append(LoadAsked("angle", context.value(load.angle)))
    return found


def _shown_load(step: SprungStep) -> int | None:
    """The place in the list of the load that the spring is drawn under. Raises Problem when there is no such load."""
    if step.shown_under is None:
        return None
    found = next((i for i, load in enumerate(step.loads) if load.id == step.shown_under), None)
    if found is None:
        raise Problem(
            "no-load",
            "The load that the spring is to be shown under is there no more.",
            "Pick another, or show it free.",
            field="shown_under",
        )
    return found


def _check_room(context: Context, step: SprungStep) -> None:
    """Raises Problem where a bore or a rod is none, whether it is needed as the step stands or not."""
    for quantity in (step.bore, step.rod):
        context.given(quantity)


def _compression(context: Context, step: SprungStep, sizes: _Sizes, seat: Seat) -> _Made:
    wire, free = wire_of(context, step), context.value(step.free)
    coil = _coil(context, step, sizes, free)
    closing = _closing(step, sizes, coil, free, wire)
    path = spring_wire.coil_path(coil, seat)
    narrowest, _, widest = spring_wire.spread(sizes.mean)
    case = Compression(
        free,
        float(coil.pitch.max()),
        step.ends,
        context.value(step.seat),
        step.moving,
        narrowest,
        widest,
        context.given(step.bore),
        context.given(step.rod),
    )
    numbers = spring_numbers.compression(sizes.coils, wire, closing, path.length, case, _loads(context, step))
    drawn = coil
    under = _shown_load(step)
    if under is not None:
        drawn = coil.loaded(closing, min(numbers.loads[under].force, closing.solid_force))
        path = spring_wire.coil_path(drawn, seat)
    ground = step.ends == "ground"
    beyond = 0.0 if ground else sizes.wire / 2
    return _Made(path, numbers, _widest(drawn), (-beyond, drawn.height + beyond), ground)


def _coil(context: Context, step: SprungStep, sizes: _Sizes, free: float) -> spring_wire.Coil:
    beyond = 0.0 if step.ends == "ground" else sizes.wire  # the wire's own thickness, half of it at each end
    closed = (sizes.total - sizes.active) / 2
    return spring_wire.compression_coil(
        sizes.wire, sizes.mean, sizes.active, closed, free - beyond, _pitches(context, step)
    )


def _pitches(context: Context, step: SprungStep) -> list[float]:
    """The shares of the pitch. Raises Problem when one is not above zero, or one stands alone."""
    shares = [context.value(v) for v in step.pitches]
    if any(v <= 0 for v in shares) or len(shares) == 1:
        raise Problem(
            "bad-size",
            "The shares of the pitch are two or more numbers above zero.",
            "Give such ones, or none for an even pitch.",
            field="pitches",
        )
    return shares


def _free(context: Context, step: SprungStep) -> _Made:
    """The wire along a path."""
    assert step.along is not None
    path = context.path(step.along, "along")
    wire = context.value(step.wire)
    if wire <= 1e-6:
        raise Problem("bad-size", "The spring's wire is not above zero.", "Give it above zero.", field="wire")
    axis = context.plane(step.plane) if step.pressed == "axis" else None
    return _Made(
        path, spring_numbers.free_wire(path, wire, wire_of(context, step), _loads(context, step), axis, step.moving)
    )


def _extension(context: Context, step: SprungStep, sizes: _Sizes, seat: Seat) -> _Made:
    coil = spring_wire.close_coil(sizes.wire, sizes.mean[0], sizes.active)
    loops = step.loop_start, step.loop_end
    path = spring_wire.extension_path(coil, seat, loops)
    low, high = spring_wire.inside_heights(path, sizes.wire, seat.plane, loops)
    free = high - low
    initial = context.value(step.initial)
    wire = wire_of(context, step)
    numbers = spring_numbers.extension(
        sizes.coils, wire, free, initial, loops != ("none", "none"), path.length, _loads(context, step), step.moving
    )
    under = _shown_load(step)
    if under is not None:
        stretched = numbers.loads[under].travel or 0.0
        drawn = replace(coil, pitch=coil.pitch + stretched / coil.turns)
        path = spring_wire.extension_path(drawn, seat, loops)
    return _Made(path, numbers, _widest(coil), spring_wire.inside_heights(path, sizes.wire, seat.plane, loops))


def _torsion(context: Context, step: SprungStep, sizes: _Sizes, seat: Seat) -> _Made:
    coil = spring_wire.close_coil(sizes.wire, sizes.mean[0], sizes.active)
    legs = context.value(step.leg_start), context.value(step.leg_end)
    path = spring_wire.torsion_path(coil, seat, legs)
    numbers = spring_numbers.torsion(
        sizes.coils,
        wire_of(context, step),
        path.length,
        context.given(step.rod),
        _loads(context, step),
        step.moving,
    )
    under = _shown_load(step)
    if under is not None:
        coil = spring_wire.wound_up(coil, numbers.loads[under].angle or 0.0)
        path = spring_wire.torsion_path(coil, seat, legs)
    return _Made(path, numbers, _widest(coil))


def _widest(coil: spring_wire.Coil) -> float:
    return 2 * spring_wire.spread(coil.radius)[2]


def _ends(step: SprungStep) -> str:
    """The ends in words."""
    if step.along is not None:
        return "as its path"
    if step.duty == "compression":
        return {"open": "open", "closed": "closed", "ground": "closed and ground"}[step.ends]
    return f"loops: {step.loop_start}, {step.loop_end}" if step.duty == "extension" else "legs"


def _ground(step: SprungStep, seat: Seat, made: _Made) -> list[EndCut]:
    """The planes that grind the ends flat: each keeps the side on which the coil lies."""
    if not made.ground or made.heights is None:
        return []
    plane, found = seat.plane, []
    for end, height, way in (("start", made.heights[0], 1.0), ("end", made.heights[1], -1.0)):
        at = replace(plane, origin=plane.origin + height * plane.normal)
        found.append(EndCut(at, at.origin - way * plane.normal, f"{step.id}/cap/{end}", f"ground_{end}"))
    return found


def _shown(numbers: SpringNumbers) -> SpringShown:
    spread = numbers.spread
    return {
        "duty": numbers.duty,
        "index": numbers.coils.index,
        "rate": numbers.rate,
        "rates": None if spread is None else spread.rate,
        "free": numbers.free,
        "solid": numbers.solid,
        "solid_force": numbers.solid_force,
        "buckles": numbers.buckles_at,
        "frequency": numbers.frequency,
        "permitted": numbers.permitted,
        "wire_length": numbers.wire_length,
        "mass": numbers.mass,
        "at": list(numbers.curve[0]),
        "force": list(numbers.curve[1]),
        "loads": [
            {
                "length": p.length,
                "travel": p.travel,
                "angle": None if p.angle is None else float(np.degrees(p.angle)),
                "force": p.force,
                "corrected": p.corrected,
                "share": p.share,
                "between": None if spread is None else spread.forces[i],
            }
            for i, p in enumerate(numbers.loads)
        ],
    }
