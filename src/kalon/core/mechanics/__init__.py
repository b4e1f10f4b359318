"""Mechanics behind the rules."""
