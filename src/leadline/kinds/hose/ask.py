"""What a hose answers to."""

from leadline.kinds.hose.shortest import shortest_hose

QUESTIONS = {"shortest": shortest_hose}
