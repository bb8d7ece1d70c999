"""What the sheet says: two figures."""

from __future__ import annotations

from pydantic import BaseModel, Field

from leadline.core.marks import Length


class NoLine(BaseModel):
    """It has no rows."""


class WasherSheet(BaseModel):
    """The ring that is punched."""

    rows: list[NoLine]
    rim: Length = Field(title="Rim")
    thickness: Length = Field(title="Thickness")
