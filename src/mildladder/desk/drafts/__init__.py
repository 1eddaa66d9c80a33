"""See and change a draft, order it, review it, and share its steps."""
