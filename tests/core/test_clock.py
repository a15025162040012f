import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.clock import LocalClock, Rate, TimecodeError, fit_spans, format_timecode, parse_time

PAL = Rate(num=25)
NTSC = Rate(num=30000, den=1001)


def test_drop_frame_counts_a_whole_day_as_the_standard_says():
    # SMPTE ST 12-1: numbers 00 and 01 are left out at every minute but each tenth.
    frame = 0
    for minute in range(24 * 60):
        for second in (0, 1, 30, 59):
            for ff in (0, 1, 2, 29):
                if minute % 10 and second == 0 and ff < 2:
                    continue
                counted = minute * 1800 - 2 * (minute - minute // 10) + second * 30 + ff
                written = f"{minute // 60:02d}:{minute % 60:02d}:{second:02d};{ff:02d}"
                assert format_timecode(counted, NTSC) == written
                assert parse_time(written, NTSC) == counted
                frame = max(frame, counted)
    assert frame + 1 == 2589408  # frames in a day of drop-frame timecode


def test_non_drop_timecode_numbers_every_frame():
    every = Rate(num=30000, den=1001, non_drop=True)
    for frame in (0, 1799, 1800, 17982, 2589407):
        written = format_timecode(frame, every)
        assert (
            written == f"{frame // 108000:02d}:{frame // 1800 % 60:02d}:{frame // 30 % 60:02d}:{frame % 30:02d}"
            and parse_time(written, every) == frame
        )
    assert format_timecode(1800, NTSC) == "00:01:00;02"


@given(
    st.integers(0, 10**7),
    st.sampled_from([PAL, NTSC, Rate(num=24000, den=1001), Rate(num=60000, den=1001), Rate(num=50)]),
)
def test_timecode_reads_back(frame, rate):
    # Of every minute but each tenth so many numbers are left out: a day has fewer frames, after which it begins anew.
    left_out = {30: 2, 60: 4}.get(rate.nominal, 0) if rate.den == 1001 else 0
    if frame < 24 * 3600 * rate.nominal - 24 * 54 * left_out:
        assert parse_time(format_timecode(frame, rate), rate) == frame


@pytest.mark.parametrize(
    "typed, frame",
    [
        ("75", 75),
        ("3s", 75),
        ("2:00", 50),
        ("+20f", 120),
        ("-1s", 75),
        ("1s+5f", 30),
        ("0.5s", 13),
        ("00:00:03:07", 82),
        ("1m", 1500),
    ],
)
def test_times_as_editors_type_them(typed, frame):
    assert parse_time(typed, PAL, now=100) == frame


@pytest.mark.parametrize("typed", ["", "soon", "1:2:3:4:5", "3s5", "00:01:00;00"])
def test_a_time_that_is_none_says_what_would_be(typed):
    with pytest.raises(TimecodeError, match="[Ww]rite|Type|does not exist"):
        parse_time(typed, NTSC)


@given(st.integers(1, 2000), st.integers(0, 900), st.integers(0, 900))
def test_spans_fill_the_clip_and_shrink_in_proportion(length, arrival, departure):
    spans = fit_spans(length, arrival, departure)
    assert spans.arrival + spans.stay + spans.departure == length
    if arrival + departure <= length:
        assert (spans.arrival, spans.departure) == (arrival, departure)
    else:
        assert abs(spans.arrival - length * arrival / (arrival + departure)) <= 0.5


@given(st.integers(1, 500), st.integers(0, 200), st.integers(0, 200))
def test_an_arrival_begins_on_the_first_frame_and_a_departure_ends_on_the_last(length, arrival, departure):
    clock = LocalClock.of(length, arrival, departure)
    assert clock.from_head(0) == 0
    assert clock.from_tail(0) == length - 1


def test_a_rate_knows_the_frame_at_a_time():
    assert NTSC.frame_at(NTSC.seconds(1001)) == 1001
    assert Rate(num=24).frame_at(PAL.seconds(10)) == 9  # ⌊0.4 s · 24⌋
