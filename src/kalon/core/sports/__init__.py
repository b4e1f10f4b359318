"""The sports: each one a value, in a file of its own."""
