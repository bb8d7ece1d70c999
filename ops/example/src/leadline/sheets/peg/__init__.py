"""What is swept, as one who saws it off asks for it."""

from leadline.recipe.sheets import Sheet
from leadline.sheets.peg.model import PegSheet

SHEET = Sheet(PegSheet, title="Peg", of=("body",))
