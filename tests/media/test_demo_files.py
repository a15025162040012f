"""The demo's files are what its generator paints, small enough to ship, without bands in their skies."""

import cv2
import numpy as np
import pytest

from idle_comet.demo.hive import write_hive
from idle_comet.demo.painting import painted_still, painter_of
from idle_comet.demo.world import FILES, RATE, SHOTS, STILLS
from idle_comet.media.decode import ShotReader
from idle_comet.media.probe import probe

BLOCK = 24


def blocks(picture):
    """Mean of each block, (rows, columns, 3)."""
    height, width = (side // BLOCK * BLOCK for side in picture.shape[:2])
    tiles = picture[:height, :width, :3].astype(float).reshape(height // BLOCK, BLOCK, width // BLOCK, BLOCK, 3)
    return tiles.mean((1, 3))


def psnr(one, other):
    return 10 * np.log10(255**2 / ((one.astype(float) - other) ** 2).mean())


def test_all_of_them_are_small():
    sizes = {file.name: file.stat().st_size for file in FILES.iterdir()}
    assert set(sizes) == {
        *(f"{shot.id}.mp4" for shot in SHOTS),
        *(f"{each[0]}{each[3]}" for each in STILLS),
        "hive.glb",
    }
    assert max(sizes.values()) < 4e6 and sum(sizes.values()) <= 18e6


@pytest.mark.parametrize("shot", SHOTS, ids=[shot.id for shot in SHOTS])
def test_a_shot_is_what_is_painted(shot):
    painter, count = painter_of(shot), int(shot.seconds * RATE)
    found = probe(FILES / f"{shot.id}.mp4")
    assert (found.width, found.height, found.frames, found.rate) == (shot.width, shot.height, count, RATE)
    reader = ShotReader(FILES / f"{shot.id}.mp4")
    for number in (0, count // 2, count - 1):
        shown, painted = reader.picture(number, exact=True)[..., :3], painter.frame(float(number / RATE))[..., :3]
        assert psnr(shown, painted) > 37
        # A band is a plain patch that lies off by half a step.
        assert np.percentile(np.abs(blocks(shown) - blocks(painted)), 99) < 1.25
    reader.close()


# Two that take long to paint show what a shot shows, which is painted above.
@pytest.mark.parametrize(
    "id, name, paints, suffix", [each for each in STILLS if each[0] not in ("heath-wide", "heath-dawn")]
)
def test_a_still_is_what_is_painted(id, name, paints, suffix):
    shown = cv2.imread(str(FILES / f"{id}{suffix}"), cv2.IMREAD_UNCHANGED)
    painted = painted_still(paints)
    if suffix == ".png":
        assert np.abs(shown[..., 3].astype(int) - painted[..., 3]).max() <= 1
    else:
        assert psnr(shown[..., ::-1], painted[..., :3]) > 34


def test_the_model_is_what_is_made(tmp_path):
    write_hive(tmp_path / "hive.glb")
    assert (tmp_path / "hive.glb").read_bytes() == (FILES / "hive.glb").read_bytes()
