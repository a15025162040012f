"""Letters that are joined to their neighbours (Arabic, Syriac, N'Ko, Mongolian …), by Unicode's joining types."""

from __future__ import annotations

from functools import lru_cache

import regex

_SEEN_THROUGH = regex.compile(r"\p{Joining_Type=Transparent}+")
_ON = regex.compile(r"[\p{Joining_Type=Dual_Joining}\p{Joining_Type=Left_Joining}\p{Joining_Type=Join_Causing}]$")
_BACK = regex.compile(r"^[\p{Joining_Type=Dual_Joining}\p{Joining_Type=Right_Joining}\p{Joining_Type=Join_Causing}]")

SCRIPTS = frozenset(
    {"Arab", "Syrc", "Mong", "Nkoo", "Mand", "Adlm", "Rohg", "Phag", "Mani", "Phlp", "Sogd", "Sogo", "Chrs", "Ougr"}
)
"""Scripts (ISO 15924) with joined letters: their substitutions are never switched off."""


@lru_cache(maxsize=4096)
def connects_on(cluster: str) -> bool:
    """Whether a cluster joins the one after it in reading order, where that lets itself be joined."""
    return not cluster.isascii() and bool(_ON.search(_SEEN_THROUGH.sub("", cluster)))


@lru_cache(maxsize=4096)
def connects_back(cluster: str) -> bool:
    """Whether a cluster lets the one before it in reading order join it."""
    return not cluster.isascii() and bool(_BACK.search(_SEEN_THROUGH.sub("", cluster)))


HEADLINES = frozenset({"Deva", "Beng", "Guru", "Tirh", "Modi", "Nand", "Shrd", "Sylo"})
"""Scripts whose letters hang from a line that runs through the word."""

_LETTER = regex.compile(r"[\p{L}\p{M}]")


def under_one_headline(script: str, cluster: str, other: str) -> bool:
    """Whether the headline runs on from a cluster to the one beside it: digits and stops have none."""
    return script in HEADLINES and bool(_LETTER.match(cluster) and _LETTER.match(other))
