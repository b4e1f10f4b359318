"""The rules engine, the schools and one rules module a sport."""
