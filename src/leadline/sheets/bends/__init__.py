"""The bends of a path, one row for each."""

from leadline.recipe.sheets import Sheet
from leadline.sheets.bends.model import BendsSheet

SHEET = Sheet(BendsSheet, title="Bends", of=("path", "body"))
