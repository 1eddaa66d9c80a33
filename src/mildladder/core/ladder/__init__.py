"""What a ladder is: its rows, units, conditions, causes, rules of the order, and the ways to change it."""
