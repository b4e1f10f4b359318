"""What was taken in a day: what a pair is asked for, lines of the journal, and their sums. Exact to the minor unit."""
