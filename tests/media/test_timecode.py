"""Timecode: SMPTE ST 12-1, against OpenTimelineIO."""

from fractions import Fraction

import opentimelineio as otio
import pytest

from yearning.media.timecode import Timecode

NTSC = Fraction(30000, 1001)
RATES = [
    Fraction(24),
    Fraction(25),
    Fraction(30),
    Fraction(24000, 1001),
    Fraction(50),
    Fraction(60),
]
FRAMES = [0, 1, 29, 30, 1799, 1800, 1801, 17981, 17982, 17983, 53945, 107892, 1_000_000]


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("frame", FRAMES)
def test_labels_without_drop_are_opentimelineios(rate, frame):
    label = str(Timecode(frame, rate, False))
    nominal = round(rate)
    expected = otio.opentime.to_timecode(otio.opentime.RationalTime(frame, nominal), nominal)
    assert label == expected
    assert Timecode.parse(label, rate) == Timecode(frame, rate, False)


@pytest.mark.parametrize("rate", [NTSC, Fraction(60000, 1001)])
@pytest.mark.parametrize("frame", FRAMES)
def test_labels_with_drop_are_opentimelineios(rate, frame):
    label = str(Timecode(frame, rate, True))
    time = otio.opentime.RationalTime(frame, float(rate))
    assert label == otio.opentime.to_timecode(time, float(rate), drop_frame=True)
    assert Timecode.parse(label, rate) == Timecode(frame, rate, True)


def test_every_label_of_an_hour_follows_the_one_before_and_none_is_dropped_twice():
    labels = [str(Timecode(n, NTSC, True)) for n in range(107892 + 1)]
    assert len(set(labels)) == len(labels)
    assert labels == sorted(labels)
    assert labels[1799:1801] == ["00:00:59;29", "00:01:00;02"]
    assert labels[17982] == "00:10:00;00"
    assert labels[107892] == "01:00:00;00"


def test_drop_frame_keeps_pace_with_the_clock():
    # a day of drop-frame timecode is 86.4 ms short of a day (ST 12-1), as OpenTimelineIO counts too
    a_day = Timecode.parse("23:59:59;29", NTSC).frame + 1
    assert a_day == otio.opentime.from_timecode("23:59:59;29", float(NTSC)).value + 1
    assert float(a_day / NTSC) == pytest.approx(86400 - 0.0864, abs=1e-6)


def test_midnight_begins_the_day_again():
    assert str(Timecode.parse("23:59:59:23", Fraction(24)).plus(1)) == "00:00:00:00"
    assert str(Timecode.parse("23:59:59;29", NTSC).plus(1)) == "00:00:00;00"


@pytest.mark.parametrize(
    ("text", "rate"),
    [
        ("", 25), ("1:2:3", 25), ("00:00:00:25", 25), ("24:00:00:00", 25), ("00:60:00:00", 25),
        ("00:01:00;00", NTSC), ("00:01:00;01", NTSC), ("aa:bb:cc:dd", 25),
    ],
)  # fmt: skip
def test_what_is_no_timecode_is_refused(text, rate):
    with pytest.raises(ValueError, match=r"timecode|dropped|leaves out"):
        Timecode.parse(text, Fraction(rate))


def test_semicolons_mean_drop_only_where_drop_is_defined():
    assert not Timecode.parse("01:00:00;00", Fraction(25)).drop
    assert Timecode.parse("01:00:00;00", NTSC).drop
