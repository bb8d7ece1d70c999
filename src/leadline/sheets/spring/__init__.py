"""A spring as one who makes it asks for it."""

from leadline.recipe.sheets import Sheet
from leadline.sheets.spring.model import SpringSheet

SHEET = Sheet(SpringSheet, title="Spring", of=("body",))
