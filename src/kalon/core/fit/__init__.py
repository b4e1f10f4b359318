"""How a foot sits in a shoe, new and settled."""
