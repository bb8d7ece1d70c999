"""Sections that go over into one another: which places of their outlines correspond, and by what law."""
