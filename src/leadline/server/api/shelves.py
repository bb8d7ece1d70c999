"""The shelf: tables of stock, and what goes in and out of them as CSV."""

from __future__ import annotations

from typing import Annotated, Any

from flask import current_app
from pydantic import BaseModel, Field

from leadline.recipe.stock import SORTS, Ids, StockRow, read_stock, write_stock
from leadline.server.api.blueprint import blueprint
from leadline.server.desk import desk, elsewhere
from leadline.server.shelves import Shelf

api = blueprint("shelves", __name__, "/api/shelves", 404, 409, 422)

ShelfName = Annotated[str, Field(min_length=1, max_length=80)]


class ShelfPath(BaseModel):
    shelf_id: str


class ColumnView(BaseModel):
    name: str
    title: str
    unit: str


class ShelfView(BaseModel):
    id: str
    name: str
    sort: str
    version: int
    columns: list[ColumnView]
    rows: list[StockRow]


class ShelvesView(BaseModel):
    shelves: list[ShelfView]


class ShelfBody(BaseModel):
    version: int
    name: ShelfName
    rows: list[StockRow]


class ShelfTable(BaseModel):
    """Rows as CSV."""

    version: int
    csv: Annotated[str, Field(max_length=1_000_000)]


def view(shelf: Shelf) -> dict[str, Any]:
    columns = [{"name": c.name, "title": c.title, "unit": c.unit} for c in SORTS[shelf.sort][1]]
    return {
        "id": shelf.id,
        "name": shelf.name,
        "sort": shelf.sort,
        "version": shelf.version,
        "columns": columns,
        "rows": [r.model_dump(mode="json") for r in shelf.rows],
    }


def _changed(shelf: Shelf) -> dict[str, Any]:
    desk().changed.append(shelf.id)
    return view(shelf)


@api.get("", responses={200: ShelvesView})
@elsewhere("files")
def list_shelves() -> Any:
    """All shelves with their rows."""
    return {"shelves": [view(s) for s in desk().shelves.listed()]}


@api.put("/<string:shelf_id>", responses={200: ShelfView})
@elsewhere("files")
def save_shelf(path: ShelfPath, body: ShelfBody) -> Any:
    """Change a shelf; refused with 409 when someone else has changed it since.

    Open parts that follow it are built again.
    """
    return _changed(desk().shelves.save(path.shelf_id, body.version, body.name, body.rows))


@api.post("/<string:shelf_id>/copy", responses={201: ShelfView})
@elsewhere("files")
def copy_shelf(path: ShelfPath) -> Any:
    """A shelf of one's own with the same rows."""
    shelf = desk().shelves.get(path.shelf_id)
    return view(desk().shelves.create(shelf.sort, f"{shelf.name[:75]} copy", shelf.rows)), 201


@api.delete("/<string:shelf_id>", responses={204: None})
@elsewhere("files")
def remove_shelf(path: ShelfPath) -> Any:
    """Take a shelf away; values that follow its rows keep their numbers."""
    desk().shelves.remove(path.shelf_id)
    return "", 204


@api.get("/<string:shelf_id>/csv", responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}})
@elsewhere("files")
def shelf_csv(path: ShelfPath) -> Any:
    """The rows as CSV."""
    shelf = desk().shelves.get(path.shelf_id)
    response = current_app.response_class(write_stock(shelf.sort, shelf.rows), mimetype="text/csv")
    response.headers["Content-Disposition"] = f'attachment; filename="{shelf.sort}.csv"'
    return response


@api.post("/<string:shelf_id>/csv", responses={200: ShelfView})
@elsewhere("files")
def read_shelf(path: ShelfPath, body: ShelfTable) -> Any:
    """Rows of a CSV file: those with the name of a row take its place and its id, the others come after."""
    shelf = desk().shelves.get(path.shelf_id)
    known = {r.name for r in shelf.rows}
    ids = Ids(r.id for r in shelf.rows)
    read = {r.name: r for r in read_stock(shelf.sort, body.csv)}
    rows = [r if r.name not in read else read[r.name].model_copy(update={"id": r.id}) for r in shelf.rows]
    for name, row in read.items():
        if name not in known:
            rows.append(row.model_copy(update={"id": ids.unused(name)}))
    return _changed(desk().shelves.save(path.shelf_id, body.version, shelf.name, rows))
