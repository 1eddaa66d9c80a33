"""The best order of a ladder, and the choice between milder and quicker."""
