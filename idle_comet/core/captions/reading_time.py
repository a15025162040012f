"""How long words take to be read."""

from __future__ import annotations

FIND, CHARACTERS_A_SECOND = 0.3, 15
"""Seconds to find the words, and how fast they are read: viewers read 13 to 17 characters a second."""


def reading_seconds(text: str) -> float:
    """Seconds to find and read words; none for no words."""
    count = sum(not each.isspace() for each in text)
    return 0.0 if not count else FIND + len(" ".join(text.split())) / CHARACTERS_A_SECOND
