"""A round peg on a plane: a kind of step that no file outside this folder knows."""

from leadline.kinds.peg.model import PegStep

from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(PegStep, gives="body", reads_bodies=combines)
