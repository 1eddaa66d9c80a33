"""The guided case as a state machine over events."""
