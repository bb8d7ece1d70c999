"""A washer, as one who punches it asks for it."""

from leadline.recipe.sheets import Sheet
from leadline.sheets.washer.model import WasherSheet

SHEET = Sheet(WasherSheet, title="Washer", of=("body",))
