"""What a spring answers to."""

from leadline.kinds.sprung.designing import designs

QUESTIONS = {"designs": designs}
