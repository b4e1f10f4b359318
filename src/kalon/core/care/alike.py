"""When two records may be of one person, by their names: shares of the trigrams they have in common, 0 to 1."""

LIKE = 0.5
"""Names as alike as this are offered. House default."""
LIKE_BORN_ALIKE = 0.3
"""And so alike where both were born on the same day; below this the database's index finds nobody. House default."""
