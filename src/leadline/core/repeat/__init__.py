"""Copies along a path: where they stand, and how close they come to each other."""
