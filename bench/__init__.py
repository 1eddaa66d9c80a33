"""Speed of what a lead and an agent wait for, as JSON: `make bench`."""
