"""Geometry on NumPy alone: planes, section curves, frames, laws, the motion."""
