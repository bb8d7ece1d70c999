"""Two hundred edits while processes are killed and paused: what the longest one takes, and that nothing acknowledged is
lost.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

from benchmarks.timing import table
from tests.support.faults import FAULTS, edits_under, house

EDITS, STRIKES = 200, 5


def report() -> str:
    rows = []
    with tempfile.TemporaryDirectory() as folder, house(Path(folder)) as at:
        for fault in FAULTS:
            try:
                longest = edits_under(at, fault, EDITS, STRIKES)
            except AssertionError as lost:
                rows.append([fault.title, str(EDITS), "", f"**lost**: {lost}"])
            else:
                rows.append([fault.title, str(EDITS), f"{longest:.1f}", "none lost, none done twice, built in the end"])
    return table(
        f"Edits while processes die or are paused ({STRIKES} times each)",
        ["what", "edits", "longest edit, s", "result"],
        rows,
    )
