"""Ways to read a shoe: its anatomy, in properties a hand or a rule measures and features it has or hasn't."""
