"""Feet: numbers, checks and classes."""
