"""The made-up scenario."""
