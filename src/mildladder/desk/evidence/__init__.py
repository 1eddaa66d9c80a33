"""What logged cases show: rates, estimates, and names that are no step."""
