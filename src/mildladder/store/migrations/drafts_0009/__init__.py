"""What migration 0009 needs of drafts, as they were when it was written; nothing else uses it."""
