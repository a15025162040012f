"""Counter: the number in the words runs up to what it says."""

from __future__ import annotations

import re

from ..motion import Strengths
from .kind import Ready, StepKind, Values
from .parameter import Choice, Parameter, share

_CLOCK = re.compile(r"(?<!\d)(\d{1,3}):(\d{2})(?::(\d{2}))?(?!\d)")
_NUMBER = re.compile(r"\d(?:[\d.,'\u2019\u00a0\u202f ]*\d)?")

_FORMATS = {
    "1,234.5": (",", "."),
    "1.234,5": (".", ","),
    "1 234,5": ("\u202f", ","),
    "1'234.5": ("\u2019", "."),
    "1234.5": ("", "."),
    "1234,5": ("", ","),
}


def read_number(written: str) -> tuple[float, str, str, int]:
    """(value, sign that groups thousands, decimal sign, digits after it) of a number as somebody wrote it.

    Of two different signs the last is the decimal one. A single sign before exactly three digits groups them.
    """
    signs = [each for each in written if not each.isdigit()]
    decimal = ""
    if signs:
        last = signs[-1]
        behind = written[written.rindex(last) + 1 :]
        if last in ".," and signs.count(last) == 1 and (len(set(signs)) > 1 or len(behind) != 3):
            decimal = last
    whole, _, part = written.rpartition(decimal) if decimal else (written, "", "")
    grouping = next((each for each in signs if each != decimal), "")
    value = float(re.sub(r"\D", "", whole) + ("." + part if part else ""))
    return value, grouping, decimal or ".", len(part)


def write_number(value: float, grouping: str, decimal: str, digits: int) -> str:
    whole, _, part = f"{abs(value):.{digits}f}".partition(".")
    groups: list[str] = []
    while grouping and len(whole) > 3:
        whole, last = whole[:-3], whole[-3:]
        groups.insert(0, last)
    return (
        ("\u2212" if value < 0 and float(f"{value:.{digits}f}") != 0 else "")
        + grouping.join([whole, *groups])
        + (decimal + part if part else "")
    )


class Counter(StepKind):
    """The first number of the words (or time, as 12:30) is counted; all else stays as typed."""

    kind = "counter"
    label = "Counter"
    group = "arrival"
    synonyms = ("count up", "numbers", "money", "time", "countdown")
    weakens = ("counted",)
    says = "{counted} % counted"
    text_only = True
    parameters = (share("counted", "Progress"), Parameter("start", "Counts from", "", 0, 0, 1000, -1e6, 1e6, digits=2))
    choices = (Choice("written", "Written", ("as typed", *_FORMATS)),)
    ready = (
        Ready(
            "counter",
            "Count up",
            ("count to the number", "number runs"),
            away={"counted": 0},
            ease=Strengths(start=0.2, end=0.9),
        ),
    )

    def words(self, values: Values, text: str) -> str:
        clock = _CLOCK.search(text)
        if clock:
            parts = [int(each) for each in clock.groups() if each is not None]
            seconds = sum(part * 60 ** (len(parts) - 1 - place) for place, part in enumerate(parts))
            now = round(values["start"] + (seconds - values["start"]) * values["counted"])
            now = max(0, now)
            out: list[str] = []
            for _ in parts[1:]:
                now, rest = divmod(now, 60)
                out.insert(0, f"{rest:02d}")
            return text[: clock.start()] + ":".join([str(now).zfill(len(clock[1])), *out]) + text[clock.end() :]
        found = _NUMBER.search(text)
        if found is None:
            return text
        target, grouping, decimal, digits = read_number(found[0])
        if values["written"] != "as typed":
            grouping, decimal = _FORMATS[values["written"]]
        elif values["counted"] >= 1:
            return text
        value = values["start"] + (target - values["start"]) * values["counted"]
        return text[: found.start()] + write_number(value, grouping, decimal, digits) + text[found.end() :]
