"""What the program notes of its own work."""
