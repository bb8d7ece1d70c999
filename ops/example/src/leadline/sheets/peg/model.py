"""What the sheet says: a list of ``rows``, and figures beside them."""

from __future__ import annotations

from pydantic import BaseModel, Field

from leadline.core.marks import Length


class PegLine(BaseModel):
    """One piece of the path."""

    number: int = Field(title="Piece")
    length: Length = Field(title="Length")


class PegSheet(BaseModel):
    """The pieces of what is swept, in their order."""

    rows: list[PegLine]
    length: Length = Field(title="Length in all")
    width: Length = Field(title="Widest")
