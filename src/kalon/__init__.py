"""Kalon: a fitting bench for sports footwear fitters."""

__version__ = "0.1.0"
