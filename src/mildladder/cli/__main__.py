"""Let `python -m mildladder.cli` be the command."""

from mildladder.cli import main

main()
