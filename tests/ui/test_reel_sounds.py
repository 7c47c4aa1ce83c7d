"""What is heard of a reel: music under its shots, and which of them are heard."""

import re

from playwright.sync_api import expect

from tests.test_cli_reel_movie import noise_file
from tests.ui.acting import LONG, idle, labels_of
from tests.ui.test_reel import cell, put_in, reel, shots  # noqa: F401 (a fixture)
from tests.ui.test_standards import faults


def sounds(page):
    """What lies under the shots: names, with how long from where."""
    idle(page)
    found = page.get_by_role("button", name=re.compile("^Sound "))
    return labels_of(found)


def test_music_is_laid_under_the_shots_set_and_heard(reel, tmp_path):  # noqa: F811
    put_in(reel, "alder", "birch")
    noise_file(tmp_path / "slow air.wav", 2, seed=3)
    reel.get_by_label("A file of sound").set_input_files(tmp_path / "slow air.wav")
    air = reel.get_by_role("button", name=re.compile("^Sound slow air"))
    expect(air).to_have_attribute("aria-pressed", "true")
    assert sounds(reel) == ["Sound slow air, 48 frames from 00:00:00:00"]  # from the play head on
    wave = air.locator("path")
    assert 20 < wave.bounding_box()["height"] <= 22  # it is loud: as tall as the lane
    assert wave.bounding_box()["width"] > 0.95 * air.bounding_box()["width"]
    for label, value in (
        ("Frame of the reel it begins at", "10"),
        ("Second of its file it begins at", "0.4"),
        ("Frames it is heard", "999"),
        ("Level in dB", "-12"),
    ):
        field = reel.get_by_label(label, exact=True)
        field.fill(value)
        field.press("Enter")
    expect(reel.get_by_label("Frames it is heard")).to_have_value("38")  # as long as it is
    expect(reel.get_by_label("Level in dB")).to_have_value("-12.0")
    assert 10 < wave.bounding_box()["height"] < 12  # the root of a quarter
    air.focus()
    air.press("ArrowRight")
    assert sounds(reel) == ["Sound slow air, 38 frames from 00:00:00:11"]
    box = air.bounding_box()
    reel.mouse.move(box["x"] + 20, box["y"] + 10)
    reel.mouse.down()
    reel.mouse.move(box["x"] + 20 + box["width"] / 4, box["y"] + 10, steps=4)
    reel.mouse.up()
    ((moved,),) = (re.findall(r"38 frames from 00:00:00:(\d\d)", said) for said in sounds(reel))
    assert 19 <= int(moved) <= 22
    assert faults(reel) == []

    cell(reel, 2).click()
    reel.get_by_role("button", name="Hear the shots' own sound").click()
    assert ["not heard" in words for words in shots(reel)] == [False, True]
    cell(reel, 1).click()
    reel.keyboard.press(" ")
    reel.wait_for_function(
        """() => [...document.querySelectorAll("audio")].some(
          (a) => a.src.includes("slow-air") && !a.paused && Math.abs(a.volume - 0.251) < 0.01)""",
        timeout=LONG,
    )
    reel.get_by_role("button", name="Pause").click()
    assert reel.evaluate("[...document.querySelectorAll('audio')].every((a) => a.paused)")
    reel.get_by_role("button", name="Remove slow air").click()
    assert sounds(reel) == []
    idle(reel)
    reel.keyboard.press("Control+z")
    expect(air).to_be_visible()
    menu = reel.get_by_role("button", name="Lay a sound under…")
    menu.click()
    assert faults(reel) == []
    reel.get_by_role("button", name=re.compile("^slow air 2.0 s")).click()
    expect(air).to_have_count(2)

    idle(reel)
    menu.click()
    gone = reel.get_by_text("slow air is deleted.")
    reel.get_by_role("button", name="Delete slow air").click()
    expect(reel.get_by_text(re.compile("slow-air.* is used by"))).to_be_visible()
    reel.keyboard.press("Escape")
    expect(reel.get_by_role("dialog", name="Sounds")).to_have_count(0)
    for left in (1, 0):
        air.first.press("Delete")
        expect(air).to_have_count(left)
    menu.click()
    reel.get_by_role("button", name="Delete slow air").click()
    expect(gone).to_be_visible()
    expect(reel.get_by_role("button", name="Delete slow air")).to_have_count(0)
    reel.get_by_role("button", name="Bring it back").click()
    expect(reel.get_by_role("button", name="Delete slow air")).to_be_visible()
    expect(gone).to_have_count(0)
