"""Tables of colours against an interpolation done by hand, and texts that are none."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.picture import CubeError, Patch, looked_up, read_cube


def table_text(size, colour, head="", flat=False):
    """A `.cube` text of a function from (red, green, blue) to three numbers."""
    steps = [place / (size - 1) for place in range(size)]
    rows = [colour(r, r, r) for r in steps] if flat else [colour(r, g, b) for b in steps for g in steps for r in steps]
    kind = "LUT_1D_SIZE" if flat else "LUT_3D_SIZE"
    body = "\n".join(" ".join(f"{value:.7f}" for value in row) for row in rows)
    return f'TITLE "made"\n# a note\n{kind} {size}\n{head}\n{body}'


def bent(r, g, b):
    return r**2 * 0.8 + 0.1 * b, g * 0.5 + r * g * 0.5, (1 - b) * 0.3 + b * r * 0.7


def by_hand(entries, colour):
    """Tetrahedral interpolation by sorting the shares: from the first corner along the largest share, then the next."""
    size = entries.shape[0]
    at = np.clip(np.asarray(colour) * (size - 1), 0, size - 1)
    whole = np.minimum(at.astype(int), size - 2)
    shares = at - whole
    place = whole.copy()
    order = np.argsort(-shares, kind="stable")
    made = entries[tuple(place[::-1])] * (1 - shares[order[0]])
    for number, axis in enumerate(order):
        place[axis] += 1
        following = shares[order[number + 1]] if number < 2 else 0
        made = made + entries[tuple(place[::-1])] * (shares[axis] - following)
    return np.clip(made, 0, 1)


@settings(max_examples=60, deadline=None)
@given(st.tuples(*[st.integers(0, 255)] * 3), st.sampled_from([2, 5, 17]))
def test_a_colour_table_is_interpolated_in_tetrahedra(colour, size):
    cube = read_cube(table_text(size, bent))
    pixels = np.array([[[*colour, 255]]], np.float32)
    found = looked_up(Patch(pixels, 0, 0), cube, 1).pixels[0, 0]
    steps = np.linspace(0, 1, size)
    entries = np.array([bent(r, g, b) for b in steps for g in steps for r in steps])
    wanted = by_hand(entries.reshape(size, size, size, 3), np.array(colour) / 255)
    assert np.abs(found[:3] / 255 - wanted).max() < 2e-4 and found[3] == 255
    # Of what covers half, the same colour, half of it; by half, half-way there.
    half = looked_up(Patch(pixels / 2, 0, 0), cube, 1).pixels[0, 0]
    assert np.abs(half - found / 2).max() < 0.02
    assert np.abs(looked_up(Patch(pixels, 0, 0), cube, 0.5).pixels - (pixels + found) / 2).max() < 0.01


def test_a_table_that_changes_nothing_does_and_curves_and_domains_count():
    ramp = np.dstack([np.tile(np.arange(256, dtype=np.float32), (2, 1))] * 3 + [np.full((2, 256), 255, np.float32)])
    same = looked_up(Patch(ramp.copy(), 0, 0), read_cube(table_text(33, lambda *c: c)), 1).pixels
    assert np.abs(same - ramp).max() < 0.01
    curves = read_cube(table_text(1024, lambda r, g, b: (r**2, g**0.5, 1 - b), flat=True))
    curve = looked_up(Patch(ramp.copy(), 0, 0), curves, 1)
    shares = np.arange(256) / 255
    for channel, wanted in enumerate((shares**2, shares**0.5, 1 - shares)):
        assert np.abs(curve.pixels[0, 2:, channel] / 255 - wanted[2:]).max() < 1.5e-3
    narrow = read_cube(table_text(9, lambda *c: c, "DOMAIN_MIN 0.25 0.25 0.25\nDOMAIN_MAX 0.75 0.75 0.75"))
    stretched = looked_up(Patch(ramp.copy(), 0, 0), narrow, 1).pixels[0, :, 0] / 255
    assert np.abs(stretched - np.clip((shares - 0.25) * 2, 0, 1)).max() < 1e-3


@pytest.mark.parametrize(
    "text, says",
    [
        ("", "says no size"),
        ("LUT_3D_SIZE 3\n" + "0 0 0\n" * 26, "27 entries; this one has 26"),
        ("LUT_3D_SIZE 1\n0 0 0", "from 2 to 129"),
        ("LUT_3D_SIZE 4000000\n0 0 0", "from 2 to 129"),
        ("LUT_3D_SIZE 2\n" + "0 0 0\n" * 7 + "0 nan 0", "entry 8 is not finite"),
        ("LUT_3D_SIZE 2\n" + "0 0 0\n" * 7 + "nan 0 0", "entry 8 is not finite"),
        ("LUT_3D_SIZE 2\n" + "0 0 0\n" * 7 + "0 0", "not three numbers"),
        ("LUT_3D_SIZE 2\nLUT_1D_SIZE 8\n" + "0 0 0\n" * 8, "two of them"),
        ("LUT_3D_SIZE two", "one whole number"),
        ("LUT_3D_SIZE 2\nDOMAIN_MIN 0 0 x", "hold 3 numbers"),
        ("LUT_3D_SIZE 2\nDOMAIN_MAX 0 0 0\n" + "0 0 0\n" * 8, "ends before it begins"),
        ("hello there", "which no table has"),
    ],
)
def test_a_text_that_is_no_table_says_why(text, says):
    with pytest.raises(CubeError, match=says):
        read_cube(text)
