"""The sheet, against what is known of the part that it is made of."""

from __future__ import annotations

import pytest

from leadline.recipe.build import Memory
from leadline.recipe.sheets import as_csv, as_json, make_sheet
from tests.support.parts import bar, part


def test_it_tells_the_pieces_and_two_figures():
    sheet = make_sheet(part(bar(length=80, diameter=6)), "sweep", "peg", Memory())
    told = as_json(sheet)
    assert told["rows"] == [{"number": 1, "length": pytest.approx(80)}]
    assert (told["length"], told["width"]) == (pytest.approx(80), pytest.approx(6))
    assert as_csv(sheet, "mm").splitlines()[0] == "Piece,Length (mm)"
