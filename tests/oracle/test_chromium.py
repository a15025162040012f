"""Eases and type against what Chromium does with the same numbers and the same font files."""

import base64
from pathlib import Path

import numpy as np
import pytest

from idle_comet.core.motion import Bounce, Free, Jumps, Spring, Strengths, ease_progress, read_css, write_css
from idle_comet.core.picture import MODES, Patch, blend
from idle_comet.core.type import Block, Setting, faces, lay_out

PROGRESS = """([curve, grid]) => {
  const move = document.body.animate([{ opacity: 0 }, { opacity: 1 }], { duration: 1000, easing: curve, fill: 'both' });
  move.pause();
  return grid.map(u => { move.currentTime = u * 1000; return move.effect.getComputedTiming().progress; });
}"""

WIDTH = """async ([data, words, tracking, axes]) => {
  const face = new FontFace('probe', `url(data:font/ttf;base64,${data})`);
  document.fonts.add(await face.load());
  const line = document.createElement('span');
  line.style.cssText = `font: 100px probe; letter-spacing: ${tracking}px; white-space: pre;` +
    `text-rendering: geometricPrecision; font-variation-settings: ${axes};` +
    (tracking ? 'font-variant-ligatures: none;' : '');
  line.textContent = words;
  document.body.append(line);
  return line.getBoundingClientRect().width;
}"""


@pytest.mark.parametrize(
    "curve",
    [
        (0.25, 0.1, 0.25, 1),
        (0, 0, 1, 1),
        (0.42, 0, 0.58, 1),
        (1, 0, 0, 1),
        (0, 1, 1, 0),
        (0.34, 1.56, 0.64, 1),
        (0.6, -0.8, 0.3, 1.9),
    ],
)
def test_free_curves_run_as_in_css(page, curve):
    grid = np.linspace(0, 1, 201).tolist()
    seen = page.evaluate(PROGRESS, [f"cubic-bezier({', '.join(map(str, curve))})", grid])
    ours = [ease_progress(Free(x1=curve[0], y1=curve[1], x2=curve[2], y2=curve[3]), u) for u in grid]
    assert np.abs(np.array(seen) - ours).max() <= 1e-4


@pytest.mark.parametrize(
    "css",
    [
        "linear(0, 0.25, 1)",
        "linear(0, 0.8 30%, 0.6 40% 60%, 1.1, 1)",
        "linear(0.1 20%, 0.9 80%)",
        "linear(0 0%, 0 50%, 1 50%, 1 100%)",
        "linear(-0.2, 1.3 70%, 1)",
        "steps(5)",
        "steps(3, jump-start)",
        "ease",
        "ease-in-out",
    ],
)
def test_eases_written_in_css_are_read_as_css_has_them(page, css):
    grid = (np.linspace(0, 1, 201)[1:-1] + 1e-4).tolist()
    seen = page.evaluate(PROGRESS, [css, grid])
    assert np.abs(np.array(seen) - [ease_progress(read_css(css), u) for u in grid]).max() <= 1e-4


@pytest.mark.parametrize("ease", [Strengths(start=0.3, end=0.8), Spring(damping=0.4), Bounce(), Jumps(count=7)])
def test_eases_written_as_css_run_there_as_they_do_here(page, ease):
    grid = (np.linspace(0, 1, 121)[1:-1] + 1e-4).tolist()
    seen = page.evaluate(PROGRESS, [write_css(ease), grid])
    # Springs and bounces go as 120 straight lines.
    assert np.abs(np.array(seen) - [ease_progress(ease, u) for u in grid]).max() <= 0.01


@pytest.mark.parametrize("start, end", [(0.2, 0.75), (1, 1), (0, 0.9), (0.5, 0)])
def test_strengths_are_the_curve_they_say(page, start, end):
    grid = np.linspace(0, 1, 101).tolist()
    seen = page.evaluate(PROGRESS, [f"cubic-bezier({start}, 0, {1 - end}, 1)", grid])
    assert np.abs(np.array(seen) - [ease_progress(Strengths(start=start, end=end), u) for u in grid]).max() <= 1e-4


FACES = Path(faces.__file__).parent / "faces"


@pytest.mark.parametrize(
    "family, file, weight",
    [
        ("archivo", "latin", 600),
        ("archivo", "latin", 300),
        ("fraunces", "latin", 400),
        ("courier-prime", "700", 700),
        ("caveat", "latin", 550),
        ("anton", "400", 400),
    ],
)
@pytest.mark.parametrize(
    "words, tracking",
    [
        ("THE SLOW HARVEST", 0),
        ("AVATAR To. Ty fi ffl office", 0),
        ("Ágota Ýrsson", 0),
        ("THE SLOW HARVEST", 280),
        ("fine office", 40),
    ],
)
def test_lines_are_as_wide_as_in_the_browser(page, family, file, weight, words, tracking):
    _as_wide(page, family, FACES / family / f"{file}.ttf", weight, words, tracking)


@pytest.mark.parametrize(
    "family, file, words",
    [
        ("noto-sans-arabic", "arabic", "السلام عليكم ورحمة الله"),
        ("noto-sans-arabic", "arabic", "الحصاد البطيء"),
        ("noto-sans-devanagari", "devanagari", "धीमी फसल की कहानी"),
        ("noto-sans-devanagari", "devanagari", "क्षत्रिय ज्ञान श्री"),
        ("noto-sans-hebrew", "hebrew", "שלום עולם"),
        ("noto-sans-bengali", "bengali", "ধীর ফসল"),
        ("noto-sans-tamil", "tamil", "மெதுவான அறுவடை"),
        ("noto-sans-thai", "thai", "การเก็บเกี่ยวช้า"),
    ],
)
def test_lines_of_other_scripts_are_as_wide_as_in_the_browser(page, family, file, words):
    _as_wide(page, "archivo", FACES / family / f"{file}.ttf", 500, words, 0)


def _as_wide(page, family, file, weight, words, tracking):
    setting = Setting(family, weight, tracking=tracking)
    axes = dict(faces._axes_at(file, weight, 100))
    told = ", ".join(f"'{tag}' {value}" for tag, value in axes.items()) or "normal"
    seen = page.evaluate(WIDTH, [base64.b64encode(file.read_bytes()).decode(), words, tracking / 10, told])
    layout = lay_out(words, setting, Block(align="left"))
    assert not layout.missing
    # The browser adds spacing after the last letter too.
    assert layout.lines[0].width * 100 + tracking / 10 == pytest.approx(seen, abs=0.5)


BLENDED = """([mode, below, above]) => {
  const sheet = (pixels) => {
    const canvas = new OffscreenCanvas(pixels.length / 4, 1);
    canvas.getContext('2d').putImageData(new ImageData(new Uint8ClampedArray(pixels), pixels.length / 4, 1), 0, 0);
    return canvas;
  };
  const under = sheet(below);
  const context = under.getContext('2d');
  context.globalCompositeOperation = mode;
  context.drawImage(sheet(above), 0, 0);
  return [...context.getImageData(0, 0, under.width, 1).data];
}"""

CANVAS = {
    "normal": "source-over",
    "add": "lighter",
    "colour-dodge": "color-dodge",
    "colour-burn": "color-burn",
    "colour": "color",
}


@pytest.mark.parametrize("mode", MODES)
def test_blend_modes_are_as_a_canvas_has_them(page, mode):
    dice = np.random.default_rng(8)
    below, above = (
        np.concatenate([dice.integers(0, 256, (400, 3)), dice.choice([255, 255, 200, 130], (400, 1))], axis=1)
        for _ in range(2)
    )
    seen = np.array(
        page.evaluate(BLENDED, [CANVAS.get(mode, mode), below.ravel().tolist(), above.ravel().tolist()])
    ).reshape(400, 4)

    def premultiplied(straight):
        colours = straight[:, :3] * (straight[:, 3:] / 255)
        return np.ascontiguousarray(np.concatenate([colours, straight[:, 3:]], axis=1)[None], np.float32)

    made = premultiplied(below)
    blend(made, Patch(premultiplied(above), 0, 0), mode)
    off = np.abs(made[0] - premultiplied(seen)[0])
    # A canvas keeps eight bits premultiplied: of what is translucent its own rounding is seen enlarged, now and then.
    opaque = (below[:, 3] == 255) & (above[:, 3] == 255)
    assert off[opaque].max() <= 2 and np.quantile(off, 0.98) <= 2
