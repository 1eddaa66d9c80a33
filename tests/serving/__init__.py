"""The server as a process: what slow, stuck, hostile and dying neighbours may do to it."""
