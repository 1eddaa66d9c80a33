"""The log: rows, tallies, returns, search."""
