"""Ranking shoes against a spec and a foot."""
