"""Whatever a stranger's text is like, reading it takes time in proportion to its length."""

import time

import pytest

from idle_comet.core.captions.cues import plain, plain_srt
from idle_comet.core.captions.reading import CaptionsError, read_captions
from idle_comet.core.clock import Rate, TimecodeError, parse_time
from idle_comet.core.motion import EaseError, read_css
from idle_comet.core.picture import SvgError, read_svg
from idle_comet.service.bodies import wrong
from idle_comet.service.problems import plainly


def style(text):
    return f"<svg xmlns='http://www.w3.org/2000/svg'><style>{text}</style><path class='a' d='M0 0L9 0L9 9Z'/></svg>"


def shape(**said):
    words = " ".join(f'{name.replace("_", "-")}="{value}"' for name, value in said.items())
    return f"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0L9 0L9 9Z' {words}/></svg>"


WORST = {
    "comments that do not end": (read_svg, lambda n: style("/*" * n)),
    "selectors without a body": (read_svg, lambda n: style("." * n)),
    "names without a body": (read_svg, lambda n: style("a" * n)),
    "spaces in a selector": (read_svg, lambda n: style(f".a{' ' * n}b {{fill: red}}")),
    "braces within braces": (read_svg, lambda n: style("{" * n)),
    "names in a list of transforms": (read_svg, lambda n: shape(transform="a" * n)),
    "brackets in a list of transforms": (read_svg, lambda n: shape(transform="a(" * n)),
    "digits of a width": (read_svg, lambda n: shape(stroke_width="1" * n, stroke="red")),
    "declarations": (read_svg, lambda n: shape(style=":;" * n)),
    "a document type": (read_svg, lambda n: "<!DOCTYPE" + " [" * n),
    "an outline": (read_svg, lambda n: f"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0{'h1' * n}'/></svg>"),
    "quotes and backslashes": (lambda text: wrong(text.encode()), lambda n: '[[{"\\' + '"\\' * n),
    "open quotes": (lambda text: wrong(text.encode()), lambda n: "[" * 61 + '{"' * n),
    "lone surrogates": (lambda text: wrong(text.encode()), lambda n: "\\ud83d\\ude00" * n),
    "times with spaces": (lambda text: read_captions(text.encode()), lambda n: f"1\n00:00:0{' ' * n}x --> 1\n\n" * 2),
    "digits of times": (lambda text: read_captions(text.encode()), lambda n: "1" * n + " --> " + "1" * n),
    "tags that do not end": (plain, lambda n: "<a" * n),
    "tags of SubRip that do not end": (plain_srt, lambda n: "<i " * n + "{b:" * n),
    "an ease": (read_css, lambda n: "a" * n),
    "numbers of an ease": (read_css, lambda n: f"linear({'0, ' * n}"),
    "a time": (lambda text: parse_time(text, Rate(num=25), 0), lambda n: "1" * n),
    "a path": (lambda text: plainly(ValueError(text)), lambda n: "/a" * n),
    "slashes": (lambda text: plainly(ValueError(text)), lambda n: "/" * n),
}


def cost(read, text):
    """Seconds of this process for one reading, the least of some."""
    found = []
    for _ in range(3):
        began = time.process_time()
        try:
            read(text)
        except (SvgError, CaptionsError, EaseError, TimecodeError):
            pass
        found.append(time.process_time() - began)
    return min(found)


@pytest.mark.parametrize("read, made", WORST.values(), ids=WORST)
def test_four_times_as_long_takes_no_more_than_some_times_as_long(read, made):
    # A quadratic reader takes sixteen times as long. What takes next to nothing can't be told apart from that.
    short, long = cost(read, made(4000)), cost(read, made(16_000))
    assert long < 9 * short + 0.012
