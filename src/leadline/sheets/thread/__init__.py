"""A thread as a drawing, a lathe and a gauge ask for it."""

from leadline.recipe.sheets import Sheet
from leadline.sheets.thread.model import ThreadSheet

SHEET = Sheet(ThreadSheet, title="Thread", of=("change",))
