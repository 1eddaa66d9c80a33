"""What to change next, what came of it, two editions side by side, and the month on a page."""
