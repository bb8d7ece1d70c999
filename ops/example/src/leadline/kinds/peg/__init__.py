"""A round peg on a plane: a kind of step that no file outside this folder knows."""

from leadline.kinds.peg.model import PegStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import SweptResult

KIND = StepKind(PegStep, gives="body", result=SweptResult, reads_bodies=combines)
