"""What to change next, and what it would be worth: drafts judged by what the cases have taught."""
