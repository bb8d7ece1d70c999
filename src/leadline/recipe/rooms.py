"""What the room of a kind of step does, loaded when it is first asked for: its builder, and what its steps answer to.

It brings the numerics and the kernel; what a kind *is*, in ``registry``, is known without.
"""

from __future__ import annotations

import importlib
import importlib.util
from collections.abc import Callable, Mapping
from functools import cache
from typing import Any

from leadline.recipe.context import Context
from leadline.recipe.products import Product
from leadline.recipe.registry import StepKind
from leadline.recipe.results import Report

Builder = Callable[[Context, Any, Report], Product]


@cache
def builder_of(kind: StepKind) -> Builder:
    """The function ``build(context, step, report)`` of a kind's room."""
    builder: Builder = importlib.import_module(f"{kind.room}.build").build
    return builder


@cache
def questions_of(kind: StepKind) -> Mapping[str, Callable[..., Any]]:
    """What steps of a kind answer to between builds: functions of the part, the step's id and what goes with the
    question.
    """
    if importlib.util.find_spec(f"{kind.room}.ask") is None:
        return {}
    found: Mapping[str, Callable[..., Any]] = importlib.import_module(f"{kind.room}.ask").QUESTIONS
    return found
