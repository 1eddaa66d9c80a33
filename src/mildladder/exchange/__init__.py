"""One module per format: each a reader and/or writer over the core models."""
