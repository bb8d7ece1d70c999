"""Files that parts take bodies from."""

from __future__ import annotations

from typing import Any

from flask import request

from leadline.recipe.files import refuse_large
from leadline.server.api.blueprint import blueprint
from leadline.server.api.models import FileView
from leadline.server.desk import desk, elsewhere

api = blueprint("files", __name__, "/api/files", 422)


@api.post("", responses={201: FileView})
@elsewhere("files")
def keep_file() -> Any:
    """Keep a file (the request's body) for bodies to be taken from it; one that is kept already is not kept twice."""
    data = request.get_data()
    refuse_large(len(data))
    return {"digest": desk().files.keep(data)}, 201
