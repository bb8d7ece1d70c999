"""A flag that two processes share."""

from __future__ import annotations

import ctypes
from multiprocessing.context import BaseContext


class Flag:
    """It has no lock, as multiprocessing's events have: a process that is killed while it looks at one would keep that
    locked for ever, and whoever sets it then waits for ever.

    To read or write one byte takes none.
    """

    def __init__(self, context: BaseContext) -> None:
        self._value = context.RawValue(ctypes.c_bool, False)

    def set(self) -> None:
        self._value.value = True

    def clear(self) -> None:
        self._value.value = False

    def is_set(self) -> bool:
        return bool(self._value.value)
