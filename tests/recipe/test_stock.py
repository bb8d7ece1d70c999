"""The shelf: tables that are read back as they were written, refusals with their row, and values that follow a row."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.recipe.build import build
from leadline.recipe.stock import SORTS, StockRow, checked, number_of, read_stock, shipped, with_stock, write_stock
from tests.support.parts import bar, part

NAMES = (
    st.text(st.characters(codec="utf-8", categories=("L", "N"), include_characters=' ×,;"'), min_size=1, max_size=20)
    .map(str.strip)
    .filter(bool)
)


@pytest.mark.parametrize("sort", SORTS)
def test_each_sort_comes_with_stock_that_is_complete(sort):
    rows = shipped()[sort]
    assert len(rows) >= 3
    for row in rows:
        assert set(row.cells) == {c.name for c in SORTS[sort][1]}
    assert read_stock(sort, write_stock(sort, rows)) == rows


def test_a_shipped_tube_bends_no_tighter_than_it_is_wide_and_a_wire_weighs_what_it_is():
    for row in shipped()["tubes"]:
        assert row.cells["least_bend"] >= 1.5 * row.cells["outside"] > 2 * row.cells["wall"]
    for row in shipped()["wires"]:
        assert row.cells["weight"] == pytest.approx(3.14159 / 4 * row.cells["diameter"] ** 2 * 7.87e-3, rel=0.02)


@given(
    st.lists(st.tuples(NAMES, st.floats(0, 1e6), st.none() | st.floats(0, 1e3)), max_size=12, unique_by=lambda r: r[0])
)
def test_rows_are_read_as_they_were_written(made):
    rows = []
    for i, (name, outside, wall) in enumerate(made):
        cells = {"outside": outside} | ({} if wall is None else {"wall": wall})
        rows.append(StockRow(id=f"r{i}", name=name, cells=cells))
    again = read_stock("tubes", write_stock("tubes", rows))
    assert [(r.name, r.cells) for r in again] == [(r.name, r.cells) for r in rows]
    assert len({r.id for r in again}) == len(rows)


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("", "bad-csv"),
        ("outside,wall\n1,2\n", "bad-csv"),
        ("name,outside\n,3\n", "bad-csv"),
        ("name,weight\nA,3\n", "unknown-column"),
        ("name,outside\nA,wide\n", "bad-cell"),
        ("name,outside\nA,nan\n", "bad-cell"),
        ("name,outside\nA,-3\n", "bad-cell"),
        ("name,outside\nA,3\nA,4\n", "row-twice"),
        ("name,outside\n" + "".join(f"A{i},3\n" for i in range(2001)), "shelf-full"),
    ],
)
def test_what_is_no_table_of_tubes_is_refused(text, code):
    with pytest.raises(Problem) as refusal:
        read_stock("tubes", text)
    assert refusal.value.message.code == code


def test_a_sort_that_there_is_not_is_refused_and_a_text_where_a_number_goes():
    for rows, code in (
        ([StockRow(id="a", name="A", cells={"outside": "wide"})], "bad-cell"),
        ([StockRow(id="a", name="A", cells={"material": 3.0})], "bad-cell"),
    ):
        with pytest.raises(Problem) as refusal:
            checked("tubes", rows)
        assert refusal.value.message.code == code
    with pytest.raises(Problem) as refusal:
        read_stock("planks", "name\nA\n")
    assert refusal.value.message.code == "unknown-sort"


def test_a_value_follows_its_row_in_the_unit_of_its_part():
    rows = [StockRow(id="t", name="T", cells={"outside": 25.4, "material": "steel"})]
    document = bar(
        "reach",
        values=[{"name": "reach", "value": 100, "note": "", "row": {"shelf": "s", "row": "t", "size": "outside"}}],
    )

    def find(shelf):
        return ("tubes", rows) if shelf == "s" else None

    followed = with_stock(document, find)
    assert followed["values"][0]["value"] == 25.4
    assert build(part(followed)).reports["sweep"].data["length"] == pytest.approx(25.4)
    assert with_stock({**document, "units": "in"}, find)["values"][0]["value"] == 1.0
    for gone in ({"shelf": "x"}, {"row": "u"}, {"size": "bore"}, {"size": "material"}):
        value = {**document["values"][0], "row": {**document["values"][0]["row"], **gone}}
        assert with_stock({**document, "values": [value]}, find)["values"] == [value]
    assert number_of("tubes", rows[0], "wall", "mm") is None
    assert with_stock(bar(), find) == bar()
