"""PostgreSQL: one module an aggregate, SQL in plain sight."""
