"""Texts cut to the length that fits where they go, so that nothing long reaches a record or a person whole."""

__all__ = ["shortened"]


def shortened(text: str, most: int, mark: str = "…") -> str:
    """A text that fits: whole, or cut with a mark at its end."""
    return text if len(text) <= most else text[: most - len(mark)] + mark
