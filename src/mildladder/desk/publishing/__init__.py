"""Publishing, playbook files in and out, and first ladders from the log."""
