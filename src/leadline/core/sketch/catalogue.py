"""The catalogue: which constraints and dimensions there are.

To add one: write a function that takes the system and the constraint and adds its rows, and enter it in
``CONSTRAINTS`` (``constraint_rows``) or ``DIMENSIONS`` (``dimension_rows``).
"""

from __future__ import annotations

from leadline.core.sketch.constraint_rows import CONSTRAINTS
from leadline.core.sketch.dimension_rows import DIMENSIONS
from leadline.core.sketch.items import check_items
from leadline.core.sketch.model import Constraint, Dimension
from leadline.core.sketch.system import System


def add_constraint(system: System, constraint: Constraint) -> None:
    """Add the rows of a constraint. Raises Problem when its items do not fit its kind."""
    check_items(system, constraint)
    CONSTRAINTS[constraint.kind](system, constraint)


def add_dimension(system: System, dimension: Dimension) -> None:
    """Add the rows of a driving dimension. Raises Problem when its items do not fit its kind."""
    check_items(system, dimension)
    DIMENSIONS[dimension.kind](system, dimension, system.external.dimensions[dimension.id])
