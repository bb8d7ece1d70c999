"""Edits of a sketch: each takes a sketch and gives a new one, with the constraints that still make sense."""
