"""The bend sheet of a tube: the machine's program with all that goes with it."""

from leadline.recipe.sheets import Sheet
from leadline.sheets.tube.model import TubeSheet

SHEET = Sheet(TubeSheet, title="Bend", of=("nothing",))
