"""What logged cases show."""
