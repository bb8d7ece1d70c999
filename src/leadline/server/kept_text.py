"""Texts that the web process has for others: long ones lie in files, so that many open windows with large parts do not
fill its memory.
"""

from __future__ import annotations

import os
import tempfile

LONG = 1 << 18  # bytes from which on a text lies in a file


class Kept:
    """A text; the file of a long one is gone with it."""

    def __init__(self, text: bytes) -> None:
        self._size = len(text)
        self._short: bytes | None = None
        if len(text) < LONG:
            self._short = text
        else:
            self._file = tempfile.TemporaryFile()  # noqa: SIM115  # it is open as long as this is there
            self._file.write(text)
            self._file.flush()

    def text(self) -> bytes:
        return os.pread(self._file.fileno(), self._size, 0) if self._short is None else self._short
