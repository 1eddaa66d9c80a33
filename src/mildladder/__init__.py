"""Mild Ladder: guided troubleshooting playbooks, ordered by risk and effort, measured on logged cases."""

import os

__version__ = "0.1.0"

# Our matrices are small: more threads than one make none of them faster, and only take processors from whoever waits.
# Said before the library of linear algebra is loaded, which never looks again.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
