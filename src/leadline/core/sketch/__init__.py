"""Constrained sketches: entities, constraints, the solver, diagnosis, outlines."""
