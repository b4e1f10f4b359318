"""The HTTP interface: one router a station."""
