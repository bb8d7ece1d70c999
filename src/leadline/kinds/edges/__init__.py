"""Edges of bodies as a path."""

from leadline.kinds.edges.model import EdgesStep
from leadline.kinds.edges.result import EdgesResult
from leadline.recipe.registry import StepKind

KIND = StepKind(
    EdgesStep, gives="path", result=EdgesResult, reads_bodies=lambda step: any(e.owners != {e.step} for e in step.edges)
)
