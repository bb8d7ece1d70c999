"""What a process with the kernel can be asked, each question with what it is answered with."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Generic, Literal, TypeVar

from leadline.worker.asks import Answer, Built

if TYPE_CHECKING:  # who only asks needs no numerics
    from leadline.core.trades.general_tolerance import Grade

A = TypeVar("A")
Vector = tuple[float, ...]


@dataclass(frozen=True)
class Request(Generic[A]):
    """A question about a ``part``, whose document is given as JSON; it is answered with an ``A``."""

    part: bytes


@dataclass(frozen=True)
class BuildAll(Request[Built]):
    """Build it. The states of its steps come as events, and its picture after the answer."""


@dataclass(frozen=True)
class Export(Request[tuple[bytes, str]]):
    """The file of a ``form`` and its media type; ``chord`` (mm) and ``angle`` (degrees) are of files of triangles."""

    form: str
    chord: float | None = None
    angle: float | None = None


@dataclass(frozen=True)
class Meshing(Request[dict[str, Any]]):
    """What files of triangles would be, within a ``chord`` (mm) and an ``angle`` (degrees)."""

    chord: float | None = None
    angle: float | None = None


@dataclass(frozen=True)
class View(Request[bytes]):
    """A drawing as SVG, seen along ``towards`` with ``right`` to the right, cut open at a point and a direction."""

    towards: Vector
    right: Vector
    cut: tuple[Vector, Vector] | None = None


@dataclass(frozen=True)
class MeshOf(Request[bytes]):
    """The mesh of the body of a ``key`` at a ``fineness``, as GLB compressed by gzip."""

    key: str
    fineness: str


@dataclass(frozen=True)
class EdgesBefore(Request[list[dict[str, Any]]]):
    """The edges of the bodies before a ``step``, or of all."""

    step: str | None


@dataclass(frozen=True)
class PreviewOf(Request[Answer]):
    """What a ``step`` would be like."""

    step: str


@dataclass(frozen=True)
class WholeSheet(Request[Any]):
    """The ``sheet`` of that name of a ``step`` in a ``form``: of "json" a dict, of "csv" a str, of "pdf" bytes."""

    step: str
    sheet: str
    form: Literal["json", "csv", "pdf"]
    revision: int
    made: str
    by: str
    grade: Grade | None = None


@dataclass(frozen=True)
class Question(Request[Any]):
    """What a ``step`` is asked, of which its kind's room says what it is answered with."""

    step: str
    question: str
    given: dict[str, Any] | None = None
