"""Use cases: what the API and the command line both call. Each takes a session, and who and when of every write."""
