"""The demo's files are what its generator paints, small enough to ship, without bands in their skies."""

import av
import cv2
import numpy as np
import pytest

from idle_comet.demo.hive import write_hive
from idle_comet.demo.painting import painted_still, painter_of
from idle_comet.demo.world import FILES, RATE, SHOTS, STILLS

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
    wanted = [0, count // 2, count - 1]
    with av.open(str(FILES / f"{shot.id}.mp4")) as file:
        frames = [frame for frame in file.decode(video=0)]
        assert len(frames) == count and (frames[0].width, frames[0].height) == (shot.width, shot.height)
        assert file.streams.video[0].average_rate == RATE
        for number in wanted:
            shown = frames[number].to_ndarray(format="rgb24", src_colorspace="ITU709", dst_colorspace="ITU709")
            painted = painter.frame(float(number / RATE))[..., :3]
            assert psnr(shown, painted) > 33
            # A band is a plain patch that lies off by half a step.
            assert np.percentile(np.abs(blocks(shown) - blocks(painted)), 99) < 1.5


@pytest.mark.parametrize("id, name, painter, suffix", STILLS)
def test_a_still_is_what_is_painted(id, name, painter, suffix):
    shown = cv2.imread(str(FILES / f"{id}{suffix}"), cv2.IMREAD_UNCHANGED)
    painted = painted_still(painter)
    if suffix == ".png":
        assert np.abs(shown[..., 3].astype(int) - painted[..., 3]).max() <= 1
    else:
        assert psnr(shown[..., ::-1], painted[..., :3]) > 34


def test_the_model_is_what_is_made(tmp_path):
    write_hive(tmp_path / "hive.glb")
    assert (tmp_path / "hive.glb").read_bytes() == (FILES / "hive.glb").read_bytes()
