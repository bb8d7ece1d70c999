"""What goes over the wire, beside the part document itself."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal, Union

from pydantic import BaseModel, ConfigDict, Field, RootModel, create_model
from typing_extensions import TypedDict

from leadline.core.problems import QuantityShown, RemedyShown
from leadline.core.sketch.model import Sketch
from leadline.core.units import LengthUnit
from leadline.limits import COARSEST_ANGLE, COARSEST_CHORD, FINEST_ANGLE, FINEST_CHORD
from leadline.recipe.inputs import Name
from leadline.recipe.part import Part
from leadline.recipe.registry import StepKind, kinds
from leadline.recipe.shown import Vec3
from leadline.worker.asks import AT_MOST, CHORD


class PartPath(BaseModel):
    part_id: str


class BodyPath(BaseModel):
    key: Annotated[str, Field(pattern=r"^[0-9a-f]{40}-\d{1,4}$")]


class ExportPath(PartPath):
    form: Annotated[str, Field(pattern=r"^[a-z0-9]{1,12}$")]


class FineMeshPath(PartPath):
    key: str
    fineness: Annotated[str, Field(pattern=rf"^(coarse|normal|fine|{AT_MOST}\d{{1,6}}|{CHORD}-?\d{{1,2}}x\d{{1,6}})$")]


class QuestionPath(PartPath):
    step: str
    question: str


class SheetPath(PartPath):
    step: str
    sheet: str


class SheetQuery(BaseModel):
    """Who makes the sheet, as it is to say, and the class of general tolerances (ISO 2768-1) that holds for its
    sizes.
    """

    by: Annotated[str, Field(max_length=80)] = ""
    tolerance: Literal["", "f", "m", "c", "v"] = ""


class SheetOf(BaseModel):
    """Whose sheet it is: the ``part``, which ``revision`` of it is told of, when it was ``made`` and ``by`` whom, "" if
    that is not said.
    """

    part: str
    revision: int
    made: str
    by: str


class SheetTolerances(BaseModel):
    """By how much (mm) sizes of each row, and those beside the rows, may be off."""

    rows: list[dict[str, float]]
    fields: dict[str, float]


class SheetField(BaseModel):
    """What a figure or a column of a sheet is called, and what it measures."""

    title: str
    measure: Literal["length", "angle", "turns", "number"] | None


class SheetView(BaseModel):
    """A sheet: its ``rows``, the figures beside them, and of both the titles and measures (``columns``, ``fields``)."""

    model_config = ConfigDict(extra="allow")

    of: SheetOf
    rows: list[dict[str, float | str | None]]
    columns: dict[str, SheetField]
    fields: dict[str, SheetField]
    tolerances: SheetTolerances


class AnswerView(BaseModel):
    """What a step answers; its kind's room says what that is."""

    answer: Any


class MessageView(BaseModel):
    level: Literal["error", "warning", "note"]
    code: str
    text: str
    way_out: str = ""
    place: dict[str, Any] = {}
    template: str = ""
    quantities: list[QuantityShown] = []
    remedies: list[RemedyShown] = []


class ErrorView(BaseModel):
    """Every refusal: what, and the way out."""

    error: MessageView


class PartSummary(BaseModel):
    id: str
    name: str
    changed: str
    demo: bool
    revision: int
    picture: bool


class PartView(BaseModel):
    id: str
    revision: int
    label: str
    document: Part
    can_undo: bool
    can_redo: bool


class ChangeBody(BaseModel):
    """A change of a part: ``base`` is the revision that it was made on; sent again with its ``token``, it is not done
    twice.
    """

    base: int
    token: Annotated[str, Field(min_length=8, max_length=40)] | None = None


class SaveBody(ChangeBody):
    """A changed document."""

    label: Annotated[str, Field(min_length=1, max_length=120)]
    document: Part


class NewBody(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=80)] = "New part"
    units: Literal["mm", "in"] = "mm"


class StatusView(BaseModel):
    """What the server is busy with."""

    open_parts: int
    open_editors: int
    building: int
    waiting: int
    builders: int


class ReportView(BaseModel):
    """What the last build says of a step; ``data`` is as its kind's room says."""

    id: str
    state: Literal["fresh", "failed", "off", "below", "stopped"]
    figure: str
    messages: list[MessageView]
    uses: list[str]
    values: list[str]
    key: str
    seconds: float


def _report_of(kind: StepKind) -> type[ReportView]:
    title = kind.name.replace("_", " ").title().replace(" ", "")
    own: Any = Literal[kind.name]
    return create_model(f"{title}Report", __base__=ReportView, kind=(own, ...), data=(kind.result, ...))


if TYPE_CHECKING:
    StepReport = ReportView
else:
    StepReport = Annotated[Union[tuple(map(_report_of, kinds().values()))], Field(discriminator="kind")]  # noqa: UP007


class AskBody(BaseModel):
    """What goes with a question, as its kind's room has it."""

    given: dict[str, Any] | None = None


class FileView(BaseModel):
    """A file that is kept: the SHA-256 of what it holds."""

    digest: str


class KeptPartView(FileView):
    """A part's document that is kept, and the part's name."""

    title: str


class BodyView(BaseModel):
    """``most`` is how many triangles it is to be shown with, where all bodies together have too many; it was built with
    ``triangles``, and the surface is ``chord`` mm off them.
    """

    key: str
    name: str
    step: str
    mesh: str
    most: int | None = None
    triangles: int = 0
    chord: float = 0.0
    places: str | None
    box: tuple[Vec3, Vec3]
    colour: str | None = None


class BuildData(BaseModel):
    steps: dict[str, StepReport]
    bodies: list[BodyView]
    messages: list[MessageView]
    seconds: dict[str, float]
    density: float | None


class BuildView(BaseModel):
    state: Literal["none", "building", "done", "stopped", "failed"]
    revision: int
    steps: dict[str, str]
    result: BuildData | None


class SketchBody(BaseModel):
    """A sketch step of a document as it is being edited. ``added`` is a new constraint or dimension."""

    document: Part
    step: str
    added: str | None = None


class EditBody(BaseModel):
    """``operation`` as the part format's documentation lists them; its numbers may be expressions."""

    document: Part
    step: str
    operation: dict[str, Any]


class RenameBody(BaseModel):
    """A value by its ``name``, or a step by its id, is to be called ``to``."""

    document: Part
    what: Literal["value", "step"]
    name: Annotated[str, Field(max_length=80)]
    to: Name


class ClipBody(BaseModel):
    sketch: Sketch
    items: list[str]


class ReadSvgBody(BaseModel):
    svg: Annotated[str, Field(max_length=4 << 20)]
    mm_per_unit: float | None = None


class SvgView(BaseModel):
    """``scale`` is mm per unit as the file says, null when it does not; the size is in mm."""

    sketch: Sketch
    scale: float | None
    width: float
    height: float
    skipped: list[str]


class ReadPointsBody(BaseModel):
    csv: Annotated[str, Field(max_length=1 << 20)]
    units: LengthUnit = "mm"


class CsvPointView(BaseModel):
    x: float
    y: float
    z: float
    radius: float | None


class CsvPointsView(BaseModel):
    """In the part's unit."""

    points: list[CsvPointView]


class EdgeView(BaseModel):
    """An edge of an earlier body: polylines on the sketch's plane, mm."""

    source: str
    item: str
    lines: list[list[tuple[float, float]]]


class EdgesView(BaseModel):
    edges: list[EdgeView]


class BodyEdgesBody(BaseModel):
    """``before`` names a step; without it all steps count."""

    document: Part
    before: str | None = None


Triple = Annotated[str, Field(pattern=r"^[-+0-9.eE]+,[-+0-9.eE]+,[-+0-9.eE]+$", max_length=100)]


class FinenessQuery(BaseModel):
    """How fine the triangles of a file are to be: how far they may be from the surface, mm, and the angle between two
    beside each other, degrees.

    Without either as bodies are shown.
    """

    chord: Annotated[float, Field(ge=FINEST_CHORD, le=COARSEST_CHORD)] | None = None
    angle: Annotated[float, Field(ge=FINEST_ANGLE, le=COARSEST_ANGLE)] | None = None


class MeshingView(BaseModel):
    """How many triangles mesh files would have, every copy counted, and their sizes in bytes by how they end, that of a
    3MF roughly.
    """

    triangles: int
    sizes: dict[str, int]


class DrawingQuery(BaseModel):
    """A view: directions towards the eye and to the right, as "x,y,z"; perhaps a point of a cutting plane and the
    direction into what it takes away.
    """

    towards: Triple
    right: Triple
    point: Triple | None = None
    away: Triple | None = None


class BuiltEdgesBody(BaseModel):
    """``before`` names a step of the part as it is saved; without it all steps count."""

    before: str | None = None


class BodyEdgeView(BaseModel):
    """An edge of a body: polylines in space, mm."""

    source: str
    item: str
    lines: list[list[tuple[float, float, float]]]


class BodyEdgesView(BaseModel):
    edges: list[BodyEdgeView]


class SketchView(BaseModel):
    sketch: Sketch
    freedom: int
    free: list[str]
    repeated: list[str]
    measured: dict[str, float]
    motions: list[dict[str, tuple[float, float]]]
    curves: dict[str, list[tuple[float, float]]]
    combs: dict[str, list[tuple[float, float, float, float]]]
    figure: str = ""
    decided_by: list[str] = []
    lost: list[MessageView] = []
    faults: dict[str, list[tuple[float, float]]] = {}


class FieldView(TypedDict, total=False):
    """A field of a step, a list or a form: see ``described`` in ``recipe/fields.py``."""

    label: str
    measure: Literal["length", "angle", "turns", "number"]
    toleranced: str | bool
    above: float
    least: float
    choice: list[str]
    type: Literal["switch", "count", "text"]
    each: FieldView
    forms: list[FormView]
    any: list[FieldView]
    use: Literal["path", "plane", "section", "rail", "body", "any"]
    when: tuple[str, list[str]]
    empty: bool
    default: Any


class FormView(TypedDict):
    """A model that may stand in a field: its own fields, and the tags that tell it from others."""

    title: str
    tags: dict[str, str]
    fields: dict[str, FieldView]


class KindView(BaseModel):
    """A kind of step: what others may use it as, what it is, and what its fields mean."""

    gives: Literal["drawing", "plane", "path", "body", "copies", "change", "nothing"]
    title: str
    fields: dict[str, FieldView]


class KindsView(RootModel[dict[str, KindView]]):
    """The kinds of step by name."""


class HealthView(BaseModel):
    state: Literal["ok"]
    version: str
