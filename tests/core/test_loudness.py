"""How loud a film is, against signals whose loudness is known, and against FFmpeg's own measure."""

from fractions import Fraction

import av
import numpy as np
import pytest

from idle_comet.core.project.model import FilmSound
from idle_comet.core.sound import SOUND_RATE
from idle_comet.core.sound.loudness import LoudnessMeter, levels_at, peak_within
from idle_comet.core.sound.mastering import MixedOnce, TooQuiet, brought_to, heard, kept_below, measured
from idle_comet.core.sound.mixing import mixed

from .test_sound import Tones, film, sound


def sine(seconds, level, hertz=1000.0, phase=0.0):
    """Both sides at a peak level in dB of full scale."""
    n = np.arange(int(seconds * SOUND_RATE))
    return np.repeat(10 ** (level / 20) * np.sin(2 * np.pi * hertz * n / SOUND_RATE + phase)[:, None], 2, 1)


def loudness(samples, block=7777):
    meter = LoudnessMeter()
    for begin in range(0, len(samples), block):
        meter.add(samples[begin : begin + block])
    return meter.loudness()


@pytest.mark.parametrize(
    "parts, wanted",
    [
        ([(20, -23)], -23),
        ([(20, -33)], -33),
        ([(10, -36), (60, -23), (10, -36)], -23),
        ([(10, -72), (10, -36), (60, -23), (10, -36), (10, -72)], -23),
        ([(20, -26), (20.1, -20), (20, -26)], -23),
    ],
)
def test_loudness_of_signals_that_are_known(parts, wanted):
    """Stereo tones of 1 kHz after the manner of EBU Tech 3341: gated, relative gate, unequal parts."""
    found = loudness(np.concatenate([sine(*part) for part in parts]))
    assert found.integrated == pytest.approx(wanted, abs=0.1)


@pytest.mark.parametrize(
    "levels, wanted", [((-20, -30), 10), ((-20, -15), 5), ((-40, -20), 20), ((-50, -35, -20, -35, -50), 15)]
)
def test_the_range_between_soft_and_loud_of_signals_that_are_known(levels, wanted):
    """Tones of 20 s after the manner of EBU Tech 3342."""
    assert loudness(np.concatenate([sine(20, level) for level in levels])).range == pytest.approx(wanted, abs=1)


def test_the_loudest_three_seconds_and_what_a_meter_shows():
    parts = np.concatenate([sine(5, -40), sine(3, -20), sine(5, -40)])
    assert loudness(parts).short_term == pytest.approx(-20, abs=0.1)
    at = levels_at(parts, np.arange(1, 14) * SOUND_RATE - SOUND_RATE // 2)
    assert at[3].momentary == pytest.approx(-40, abs=0.1) and at[6].momentary == pytest.approx(-20, abs=0.1)
    # Half a second of the loud tone within three of the soft one.
    assert at[5].short_term == pytest.approx(10 * np.log10((0.5 * 1e-2 + 2.5 * 1e-4) / 3), abs=0.1)
    assert at[6].peak == pytest.approx(-20, abs=0.05)


@pytest.mark.parametrize("share, phase", [(4, 0.0), (4, 45.0), (6, 60.0), (8, 67.5), (3, 30.0)])
def test_the_true_peak_lies_between_samples(share, phase):
    """Tones whose samples never fall on their crests: −6 dB of full scale is what they reach."""
    tone = sine(1, -6.0, SOUND_RATE / share, np.radians(phase))
    # It comes and goes softly: what begins at once overshoots.
    found = loudness(tone * np.sin(np.linspace(0, np.pi, len(tone)))[:, None])
    assert found.true_peak == pytest.approx(-6.0, abs=0.2)


def test_it_agrees_with_ffmpeg_on_noise_that_comes_and_goes():
    rng = np.random.default_rng(3)
    n = np.arange(20 * SOUND_RATE)
    swell = 0.02 + 0.2 * np.sin(np.pi * n / n[-1]) ** 4
    samples = np.cumsum(rng.standard_normal((len(n), 2)), 0) * 0.02
    samples = (samples - samples.mean(0)) * 0.03 + rng.standard_normal((len(n), 2)) * swell[:, None]
    found = loudness(samples)
    graph = av.filter.Graph()
    source = graph.add_abuffer(sample_rate=SOUND_RATE, format="dbl", layout="stereo", time_base=Fraction(1, SOUND_RATE))
    measure, sink = graph.add("ebur128", "metadata=1:peak=true"), graph.add("abuffersink")
    source.link_to(measure)
    measure.link_to(sink)
    graph.configure()
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(samples).reshape(1, -1), format="dbl", layout="stereo")
    frame.sample_rate, frame.time_base, frame.pts = SOUND_RATE, Fraction(1, SOUND_RATE), 0
    source.push(frame)
    source.push(None)
    told = {}
    while True:
        try:
            told |= dict(graph.pull().metadata)
        except (av.BlockingIOError, av.EOFError):
            break
    assert found.integrated == pytest.approx(float(told["lavfi.r128.I"]), abs=0.1)
    peak = max(float(told[f"lavfi.r128.true_peaks_ch{side}"]) for side in (0, 1))
    assert found.true_peak == pytest.approx(20 * np.log10(peak), abs=0.2)


def test_below_its_ceiling_nothing_is_cut_off_and_all_else_stays():
    samples = sine(4.2, 0)
    n = np.arange(len(samples)) / SOUND_RATE
    samples *= (0.25 + 1.15 * np.clip(np.minimum(n - 1.99, 2.21 - n) / 0.01, 0, 1))[:, None]
    kept = kept_below(samples, -1.0)
    assert loudness(kept).true_peak == pytest.approx(-1.0, abs=0.1)
    assert (kept[: 2 * SOUND_RATE - 3000] == samples[: 2 * SOUND_RATE - 3000]).all()
    # Within the loud part only the level changed: it is a tone still.
    part = kept[2 * SOUND_RATE + 2400 : 2 * SOUND_RATE + 7200, 0]
    spectrum = np.abs(np.fft.rfft(part * np.hanning(len(part))))
    top = spectrum.argmax()
    rest = np.delete(spectrum, np.arange(top - 4, top + 5))
    assert np.sqrt((rest**2).sum()) < 0.002 * spectrum.max()


def test_the_film_is_the_same_wherever_one_begins_to_hear_it():
    clip = sound(head=0, length=200)
    project = film(clip)
    loud = project.model_copy(
        update={"settings": project.settings.model_copy(update={"sound": FilmSound(gain=9, ceiling=-3)})}
    )
    whole = heard(loud, Tones(), 0, 60_000)
    parts = [heard(loud, Tones(), begin, 5000) for begin in range(0, 60_000, 5000)]
    assert np.abs(np.concatenate(parts) - whole).max() < 1e-9
    assert 20 * np.log10(peak_within(whole)) <= -3.0 + 0.02


@pytest.mark.parametrize("target", [-23.0, -14.0, -3.0])
def test_a_film_is_brought_to_a_loudness_below_its_ceiling(target):
    project = film(sound(head=0, length=250), sound("t", head=250, length=20, track="a").model_copy())

    once = MixedOnce(270 * 1920)

    def measure(sound, mix=once):
        told = project.model_copy(update={"settings": project.settings.model_copy(update={"sound": sound})})
        return measured(told, Tones(), 270 * 1920, mix=mix).loudness()

    made = brought_to(target, -1.0, measure)
    found = measure(made)
    # What is mixed once is heard as what is mixed anew.
    anew = measure(made, mixed)
    assert (found.integrated, found.true_peak) == pytest.approx((anew.integrated, anew.true_peak), abs=1e-4)
    assert found.true_peak <= -1.0 + 0.02
    # A tone whose peaks may not rise can be no louder than its ceiling lets it.
    assert found.integrated == pytest.approx(target, abs=0.1) or (target == -3.0 and found.true_peak > -1.3)
    with pytest.raises(TooQuiet):
        brought_to(target, -1.0, lambda sound: measured(film(), Tones(), SOUND_RATE).loudness())
