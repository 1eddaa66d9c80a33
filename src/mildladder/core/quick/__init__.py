"""Quick words: a step in one line, for leads who have no time for forms (docs/quick-words.md)."""

from mildladder.core.quick.reading import Known, lines_of, read_line
from mildladder.core.quick.saying import quick_words

__all__ = ["Known", "lines_of", "quick_words", "read_line"]
