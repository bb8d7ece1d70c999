"""The edges step: edges of bodies as a path, with those that go on smoothly."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.fitted import fitted_piece, placed_piece
from leadline.core.paths.joining import MEETS, joined
from leadline.core.paths.path import Path
from leadline.core.problems import Problem
from leadline.core.sweep.borders import SHARP, FreeStrand, Strand
from leadline.core.units import format_length
from leadline.kinds.edges.model import EdgesStep
from leadline.kinds.edges.result import EdgesResult
from leadline.recipe.candidates import with_edges
from leadline.recipe.context import Context
from leadline.recipe.path_report import kinks, path_report
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report
from leadline.recipe.titles import edge_title

SEEN_BY = 9  # points of an edge by which it is told how far it is from where another one was


@dataclass(frozen=True, eq=False)
class _Strand:
    """A stretch of an edge as a path, with the edge's name."""

    name: str
    path: Path
    ends: Array  # (2, 3)
    outward: Array  # (2, 3): the directions in which it leaves at either end


def build(context: Context, step: EdgesStep, report: Report) -> PathProduct:
    """Put the edges end to end.

    Raises:
        Problem: an edge is gone, or they do not follow each other.
    """
    unit = context.scope.unit
    picked: list[_Strand] = []
    bodies = {s: _strands(context, s) for s in dict.fromkeys(e.step for e in step.edges)}
    for reference in step.edges:
        own = [s for s in bodies[reference.step] if s.name == reference.edge]
        if not own and context.quick and reference.owners != {reference.step}:
            raise context.not_yet(reference.step, "edges")
        if not own:
            gone = Problem(
                "deleted-reference",
                f"The edge between {edge_title(reference.edge, context.names)} is no longer there.",
                "Take it away or pick another.",
                field="edges",
                source=reference.step,
            )
            raise with_edges(
                gone, step, reference.edge, {s.name: (reference.step, _points(s)) for s in bodies[reference.step]}
            )
        picked += [s for s in own if s not in picked]
    if step.tangent:
        _go_on(picked, [s for strands in bodies.values() for s in strands])
    path = (
        picked[0].path if len(picked) == 1 else joined([s.path for s in picked], [s.name for s in picked], MEETS).path
    )
    names = list(dict.fromkeys(s.name for s in picked))
    report.messages += kinks(path)
    report.figure = f"{len(names)} edge{'s' if len(names) != 1 else ''}, {format_length(path.length, unit)}"
    report.data = EdgesResult(path=path_report(path), edges=names)
    return PathProduct(path)


def _points(strand: _Strand) -> Array:
    return strand.path.point(np.linspace(0.0, strand.path.length, SEEN_BY))


def _strands(context: Context, step: str) -> list[_Strand]:
    found = []
    for name, strands in context.edges(step, "edges").edges().items():
        for strand in strands:
            path = _path(strand, name)
            at = np.array([0.0, path.length])
            found.append(_Strand(name, path, path.point(at), path.tangent(at) * np.array([[-1.0], [1.0]])))
    return found


def _path(strand: Strand, name: str) -> Path:
    if isinstance(strand, FreeStrand):
        return Path([fitted_piece(strand.follow, a, b, name) for a, b in itertools.pairwise(strand.breaks.tolist())])
    pieces = [placed_piece(e, strand.plane) for e in strand.edges]
    closed = bool(
        np.linalg.norm(pieces[0].point(np.zeros(1)) - pieces[-1].point(np.array([pieces[-1].length]))) < MEETS
    )
    return Path(pieces, closed, strand.plane.normal)


def _go_on(picked: list[_Strand], all_of_them: list[_Strand]) -> None:
    """Add the strands that leave an end of the chain in the direction in which it arrives, until none does or it
    closes.
    """
    chain = {id(s) for s in picked}
    waiting = [(s, k) for s in picked for k in (0, 1) if not s.path.closed]
    while waiting:
        strand, k = waiting.pop()
        for other in all_of_them:
            if id(other) in chain or other.path.closed:
                continue
            for j in (0, 1):
                meets = np.linalg.norm(other.ends[j] - strand.ends[k]) < MEETS
                if meets and np.linalg.norm(other.outward[j] + strand.outward[k]) < SHARP:
                    chain.add(id(other))
                    picked.append(other)
                    waiting.append((other, 1 - j))
                    break
