"""The build: step by step, only what changed, and never lost to one failing step.

Each step has a key, the hash of its own evaluated inputs and its sources' keys. What a key made before is
taken from memory; the solids of body steps are also kept in a store, so that another process finds them.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import logging
import time
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Protocol, cast

import numpy as np

from leadline.core.expressions import measured_step
from leadline.core.problems import Message, Problem, unexpected
from leadline.core.solids.mesh_files import write_kept_glb
from leadline.recipe import keeping
from leadline.recipe.candidates import with_faces
from leadline.recipe.checking import check_unread, with_longest
from leadline.recipe.combining import MeshStates
from leadline.recipe.context import NOT_YET, Context, Names, Undeclared
from leadline.recipe.engine import engine
from leadline.recipe.files import FILE, file_of
from leadline.recipe.inputs import BaseStep
from leadline.recipe.kept_body import KeptBody, MeshFacts
from leadline.recipe.materials import DENSITY
from leadline.recipe.names import Used, at_its_value, scope_of, used_in, with_values
from leadline.recipe.part import Part
from leadline.recipe.products import BodyProduct, Product, Swept
from leadline.recipe.registry import kind_of, references
from leadline.recipe.results import BuildResult, Report
from leadline.recipe.rooms import builder_of
from leadline.recipe.shown import BodyResult, Shown

MOST_DRAWN = 5000  # keys of kept meshes that are remembered
MOVING = "-moving"  # behind the key of what is planned only as far as a moving hand needs
UNMEASURED = ("source-failed", "comes-later", NOT_YET)
Progress = Callable[[dict[str, Any]], None]
log = logging.getLogger(__name__)


class Store(Protocol):
    """Keeps blobs by content key: ``<step key>/solid`` and ``<body key>/mesh``; and has files, ``file/<digest>``."""

    def get(self, key: str) -> bytes | None: ...
    def put(self, key: str, data: bytes) -> None: ...


class Stopped(Exception):  # noqa: N818
    """Raised through a build when it is cancelled."""


@dataclass
class _Entry:
    """``names`` of steps that its messages tell; whether it has been ``kept`` in the store, as far as it can be."""

    product: Product
    report: Report
    names: dict[str, str] = field(default_factory=dict)
    kept: bool = False


@dataclass
class Memory:
    """The latest products, by key; the oldest go first, those of solids when all have more than ``faces`` faces.

    ``drawn`` are keys of meshes that are kept. What is not here is looked for in the ``store``, where a build is given
    no other.
    """

    limit: int = 400
    faces: int = 2000
    entries: OrderedDict[str, _Entry] = field(default_factory=OrderedDict)
    drawn: OrderedDict[str, None] = field(default_factory=OrderedDict)
    meshed: MeshStates = field(default_factory=MeshStates)
    store: Store | None = None

    def get(self, key: str) -> _Entry | None:
        entry = self.entries.get(key)
        if entry is not None:
            self.entries.move_to_end(key)
        return entry

    def put(self, key: str, entry: _Entry) -> None:
        self.entries[key] = entry
        while len(self.entries) > self.limit:
            self.entries.popitem(last=False)
        solid = [(k, n) for k, e in self.entries.items() if (n := _faces_of(e.product)) > 0]
        spare = sum(n for _, n in solid) - self.faces
        for old, count in solid[:-1]:
            if spare <= 0:
                break
            del self.entries[old]
            spare -= count

    def note_drawn(self, key: str) -> None:
        self.drawn[key] = None
        while len(self.drawn) > MOST_DRAWN:
            self.drawn.popitem(last=False)


def _faces_of(product: Product) -> int:
    return sum(len(b.body.face_names) for b in product.bodies) if isinstance(product, BodyProduct) else 0


def build(
    part: Part,
    memory: Memory | None = None,
    store: Store | None = None,
    progress: Progress | None = None,
    stopped: Callable[[], bool] = lambda: False,
    quick: bool = False,
    until: str | None = None,
    products: dict[str, Product] | None = None,
    moving: bool = False,
) -> BuildResult:
    """Build a part up to its sinker.

    ``quick`` plans body steps without the kernel; while something is ``moving`` steps that are not remembered are
    planned in as little time as it takes to show them, and remembered apart; ``until`` names the last step of interest:
    what is built on the way to it is not kept in the store. A step that fails says why in its report, and later steps
    that do not need it still build. ``products`` receives what each step gave.
    """
    memory = memory or Memory()
    run = _Build(part, memory, memory.store if store is None else store, progress or (lambda _: None), stopped, quick)
    run.context.moving = moving
    if products is not None:
        run.context.products = products
    run.keeps = until is None
    began = time.perf_counter()
    result = run.run(until)
    run.keep_meshes(result.bodies)
    result.seconds["all"] = time.perf_counter() - began
    return result


def _drawn(told: bytes) -> MeshFacts:
    """What is kept of a body's mesh; former versions kept only its box."""
    low, high, *known = json.loads(told)
    return MeshFacts((np.array(low), np.array(high)), *known)


class _Build:
    def __init__(
        self,
        part: Part,
        memory: Memory,
        store: Store | None,
        progress: Progress,
        stopped: Callable[[], bool],
        quick: bool,
    ) -> None:
        self.part, self.memory, self.store, self.quick = part, memory, store, quick
        self.progress, self.stopped = progress, stopped
        scope = scope_of(part)
        self.messages = list({id(p): p.message for p in scope.failed.values()}.values())  # one for a whole circle
        steps = {s.id: s for s in part.steps}
        self.context = Context(scope, quick=quick, names=Names({k: s.name for k, s in steps.items()}), steps=steps)
        self.context.file = self._file
        self.context.build_other = self._other
        self.values = {v.name: v.value for v in part.values}
        self.plan_keys: dict[str, str] = {}
        self.reports: dict[str, Report] = {}
        self.used: dict[str, Used] = {}  # what the expressions of each step use themselves
        self.keeps = True  # what it makes, in the store
        self.restored: set[str] = set()  # keys of bodies whose solids were taken from the store

    def run(self, until: str | None) -> BuildResult:
        below = False
        for step in self.part.steps:
            self.used[step.id] = used_in(step)
            used = with_values(self.used[step.id], self.values)
            report = Report(
                step.id, step.kind, "fresh", uses=_sources(step, used, self.context.names), values=sorted(used.values)
            )
            self.reports[step.id] = report
            self.context.reached.add(step.id)
            if below or step.off:
                report.state = "below" if below else "off"
            else:
                if self.stopped():
                    raise Stopped
                self._step(step, report)
            below = below or step.id == self.part.sinker
            if step.id == until:
                break
        self.messages += self._unmeasured()
        if self.part.sinker is not None and self.part.sinker not in self.reports and until is None:
            self.messages.append(
                Message(
                    "warning",
                    "no-sinker",
                    f"The sinker hangs at the step “{self.part.sinker}”, which is not there: all steps are built.",
                    "Hang it at a step, or at the end of the cord.",
                )
            )
        seconds = {"kernel": self.context.kernel_seconds, "solver": self.context.solver_seconds}
        density = None if self.part.material is None else DENSITY[self.part.material]
        for report in self.reports.values():
            report.data = _weighed(report.data, density)
        return BuildResult(self.reports, list(self.context.bodies), self.part.units, self.messages, seconds, density)

    def _file(self, digest: str) -> bytes | None:
        """What a file holds: one that the part brings along, or one of the store."""
        if digest in self.part.files:
            return file_of(self.part, digest)
        return None if self.store is None else self.store.get(f"{FILE}{digest}")

    def _other(self, part: Part, products: dict[str, Product]) -> BuildResult:
        """Build another part from what this one is built from.

        It cannot hold this one: each names the other by what it holds.
        """
        run = _Build(part, self.memory, self.store, lambda _: None, self.stopped, False)
        run.context.file, run.context.products = self.context.file, products
        result = run.run(None)
        self.context.kernel_seconds += result.seconds["kernel"]
        return result

    def _unmeasured(self) -> list[Message]:
        """Of named values that measure paths: what is wrong with them whatever has been built."""
        found = []
        for name in self.context.scope.measured:
            try:
                self.context.scope.named(name)
            except Problem as problem:
                if problem.message.code not in UNMEASURED:
                    found.append(at_its_value(problem.message))
        return found

    def _step(self, step: BaseStep, report: Report) -> None:
        began = time.perf_counter()
        self.progress({"event": "step", "id": step.id, "state": "building"})
        try:
            report.key = self._key(step, report.uses)
            entry = self._remembered(report.key) or self._stored(step, report)
            if entry is None and self.context.moving:
                report.key += MOVING
                entry = self._remembered(report.key)
            if entry is None:
                entry = self._made(step, report, self.context.quick)
                self.memory.put(entry.report.key, entry)
            self._keep(entry)
            self._take(step, entry, report)
        except Problem as problem:
            self._fail(report, problem.message)
        except (Stopped, MemoryError):
            raise
        except Exception as error:  # one step's fault that nobody foresaw is not the end of the others
            self._fail(report, unexpected(error, step=step.id).message)
        report.seconds = time.perf_counter() - began
        self.progress({"event": "step", "id": step.id, "state": report.state})

    def _remembered(self, key: str) -> _Entry | None:
        """What was made for a key, unless a step that it names is called otherwise now."""
        entry = self.memory.get(key)
        return (
            None
            if entry is None or any(self.context.names.get(k) != name for k, name in entry.names.items())
            else entry
        )

    def _made(self, step: BaseStep, report: Report, quick: bool) -> _Entry:
        """Build a step in a context that serves what it declares. Raises Problem."""
        kind = kind_of(step)
        again = [s for f, s in references(step) if f in kind.rebuilds and s in self.reports]
        declared = [*report.uses, *(r for s in again for r in self.reports[s].uses)]
        own = self.context.narrowed(declared, kind.reads_bodies(step), kind.reads_motions)
        own.quick = quick
        own.scope.asked = set()
        try:
            product = builder_of(kind)(own, step, report)
            report.messages = [message.in_fields(kind.quantities) for message in report.messages]
            if kind.needs_kernel:  # a sketch says itself what has become of its references
                self._refuse_missing(step)
            check_unread(own, step)
            self._refuse_undeclared(step, again)
            return _Entry(product, report, own.names.told)
        except Problem as problem:
            told = problem.in_fields(kind.quantities)
            raise with_faces(with_longest(told, own, step), step, own.products) from None
        finally:
            self.context.kernel_seconds += own.kernel_seconds
            self.context.solver_seconds += own.solver_seconds
            self.context.measure_here()

    def _refuse_undeclared(self, step: BaseStep, again: Sequence[str]) -> None:
        """Raises Undeclared where a step has used a value that its key does not know of: it would not be built again
        when that changes.
        """
        known = set[str]().union(*(self.reports[s].values for s in (step.id, *again)))
        others = self.context.scope.asked - known
        if others:
            raise Undeclared(f"the value {min(others)}")

    def _refuse_missing(self, step: BaseStep) -> None:
        """Raises Problem where a step refers to one that is not in the part at all, though its result does not need
        that.
        """
        for field_name, source in references(step):
            if source not in self.context.steps:
                raise Problem(
                    "deleted-reference",
                    f"It refers to the step “{source}”, which is not there.",
                    "Take that away or pick another.",
                    field=field_name,
                    source=source,
                )

    def _fail(self, report: Report, message: Message) -> None:
        if message.code == NOT_YET:
            self.context.waiting.add(report.id)
        report.state = "failed"
        report.figure = ""
        if message not in report.messages:
            report.messages = [*report.messages, message]

    def _take(self, step: BaseStep, entry: _Entry, report: Report) -> None:
        self.context.products[step.id] = entry.product
        kept = entry.report
        report.figure, report.data, report.messages = kept.figure, kept.data, list(kept.messages)
        if isinstance(entry.product, BodyProduct):
            self.context.bodies = entry.product.after(self.context.bodies)

    def _keep(self, entry: _Entry) -> None:
        if self.store is None or not self.keeps or entry.kept or not isinstance(entry.product, BodyProduct):
            return
        entry.kept = True
        made = kind_of(self.context.steps[entry.report.id]).makes_bodies
        blob = (
            keeping.written_solids(entry.product, entry.report)
            if made
            else keeping.written(entry.product, entry.report, entry.names)
        )
        if blob is not None:
            self.store.put(f"{entry.report.key}/solid", blob)

    def keep_meshes(self, bodies: Sequence[KeptBody]) -> None:
        """Keep the meshes of bodies that are shown, and their boxes; those of bodies on the way to them are
        never made.
        """
        if self.store is None or not self.keeps:
            return
        for kept in bodies:
            key = kept.mesh_key
            if key in self.restored and kept.told is None:
                told = self.store.get(f"{key}/box")  # whoever built it may have kept its mesh, too
                kept.told = None if told is None else _drawn(told)
            if key not in self.memory.drawn:
                if kept.told is None:
                    self.store.put(f"{key}/mesh", write_kept_glb(kept.shown()))
                    self.store.put(
                        f"{key}/box",
                        json.dumps(
                            [*(c.tolist() for c in kept.own_box()), kept.mesh_facts.triangles, kept.mesh_facts.chord]
                        ).encode(),
                    )
                self.memory.note_drawn(key)

    def _stored(self, step: BaseStep, report: Report) -> _Entry | None:
        """A step whose solids another process has built."""
        kind = kind_of(step)
        if self.store is None or self.quick or kind.gives not in ("body", "change", "copies"):
            return None
        blob = self.store.get(f"{report.key}/solid")
        if blob is None:
            return None
        entry = self._planned_with(step, report, blob) if kind.makes_bodies else self._read(report, blob)
        if entry is not None:
            self.memory.put(report.key, entry)
        return entry

    def _read(self, report: Report, blob: bytes) -> _Entry | None:
        """What a step that changes bodies gave, unless a step that it names is called otherwise now."""
        found = keeping.read(blob, report, {b.key: b for b in self.context.bodies})
        if found is None:
            return None
        product, known, names = found
        if any(self.context.names.get(k) != name for k, name in names.items()):
            return None
        self.restored |= {b.key for b in keeping.own_bodies(product, report)}
        return _Entry(product, known, names, kept=True)

    def _planned_with(self, step: BaseStep, report: Report, blob: bytes) -> _Entry | None:
        """A body step planned again, with its solids."""
        found = keeping.read_solids(blob, report, {b.key: b for b in self.context.bodies})
        if found is None:
            return None
        planned = self._made(step, report, quick=True)
        assert isinstance(planned.product, Swept)
        product = found.with_plan(planned.product, report)
        self.restored |= {b.key for b in keeping.own_bodies(product, report)}
        return _Entry(product, report, planned.names, kept=True)

    # -- keys -----------------------------------------------------------------------------------

    def _key(self, step: BaseStep, uses: Sequence[str]) -> str:
        """A step's key; ``plan_keys`` then has that of what is known of it before the kernel is asked.

        A step depends on what is planned of those that it refers to; on bodies only if it reads them, and then on all
        that there are.
        """
        kind = kind_of(step)
        own = step.model_dump_json(exclude={"off", "name"})
        sources = [self.plan_keys.get(r, "") if r in self.context.products else "" for r in uses]
        swept = (
            [self.plan_keys[s.id] for s in self.part.steps if s.id in self.context.products and kind_of(s).makes_bodies]
            if kind.reads_motions
            else []
        )
        plan = self.plan_keys[step.id] = _hash(
            [engine(), self.part.units, own, sources, swept, self._values_of(self.used[step.id])]
        )
        if not kind.needs_kernel and not kind.reads_bodies(step):
            return plan
        bodies = [b.key for b in self.context.bodies] if kind.reads_bodies(step) else []
        whole = _hash([plan, self.quick, step.name, bodies])
        if not kind.makes_bodies or kind.plans_by_bodies(step):  # what refers to it sees what depends on the bodies
            self.plan_keys[step.id] = whole
        return whole

    def _values_of(self, used: Used) -> list[tuple[str, float]]:
        """Named values that expressions use, evaluated."""
        scope = self.context.scope
        found = {n: scope.values[n] for n in used.values & scope.values.keys()}
        for name in used.values & scope.measured.keys():
            with contextlib.suppress(Problem):  # told by the field that uses it
                found[name] = scope.named(name)
        return sorted((f"{n}:{q.length}:{q.angle}", q.value) for n, q in found.items())


def _hash(of: list[Any]) -> str:
    return hashlib.sha256(json.dumps(of).encode()).hexdigest()[:40]


def _weighed(data: Shown, density: float | None) -> Shown:
    """With the mass of combined bodies, which is not in the key, as that knows no material; ``density`` in kg/m³."""
    if "result" not in data:
        return data
    bodies = cast(BodyResult, data)
    mass = None if density is None else bodies["result"]["volume"] * 1e-9 * density
    return bodies | BodyResult(result={**bodies["result"], "mass": mass})


def _sources(step: BaseStep, used: Used, names: Mapping[str, str]) -> list[str]:
    """The steps that a step refers to, and those whose paths are ``used``; ``names`` are those of all, by id."""
    measured = [found for name in sorted(used.paths) if (found := measured_step(names, name)) is not None]
    return list(dict.fromkeys([*(r for _, r in references(step)), *measured]))


def dependents(part: Part, step_id: str) -> list[str]:
    """The steps that use a step, directly or through others, in the part's order."""
    found: set[str] = {step_id}
    names, values = {s.id: s.name for s in part.steps}, {v.name: v.value for v in part.values}
    for step in part.steps:
        if any(r in found for r in _sources(step, with_values(used_in(step), values), names)):
            found.add(step.id)
    return [s.id for s in part.steps if s.id in found and s.id != step_id]
