"""Lists of shoes as they come from suppliers and go out again: columns, cells, lines."""
