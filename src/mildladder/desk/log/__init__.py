"""Logged cases: pages, files that bring them in, and where they come from."""
