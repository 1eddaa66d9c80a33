"""Databases that earlier versions made, packed, each beside what its version answered of it."""

from pathlib import Path

FOLDER = Path(__file__).parent
