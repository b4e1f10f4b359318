"""One router a station, and one a room."""
