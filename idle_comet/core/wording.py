"""Words of labels within a sentence."""

from __future__ import annotations


def in_text(label: str) -> str:
    """A label in small letters, but for words that are capitals throughout: axes, and short forms such as RGB."""
    return " ".join(word if word.isupper() else word.lower() for word in label.split(" "))
