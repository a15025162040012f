"""Wide colour and high dynamic range (ITU-R BT.2020, HLG and PQ of BT.2100), mapped to Rec.709 by one stated rule.

The rule: the signal becomes display light by its own curve; 203 cd/m², the graphics white of BT.2408, is white. The
colours are taken to Rec.709 primaries in linear light, and what lies outside is cut off. Light up to 80 % of white
stays as it is; what is brighter, up to 1000 cd/m², is rolled off smoothly into the rest, all three channels by the same
factor. The result is encoded for a BT.1886 display (γ 2.4). Wide colour without high dynamic range is only taken to the
primaries."""

from __future__ import annotations

from functools import lru_cache

import av
import cv2
import numpy as np
from av.video.reformatter import ColorRange, Colorspace, Interpolation, VideoReformatter

PQ, HLG = 16, 18
"""Transfer characteristics by number (ITU-T H.273)."""

WIDE = {
    PQ: "its PQ picture (HDR) is mapped to Rec.709",
    HLG: "its HLG picture (HDR) is mapped to Rec.709",
    1: "its wide colours (BT.2020) are mapped to Rec.709",
}

WHITE, PEAK, KNEE = 203.0, 1000.0, 0.8
"""cd/m², cd/m², share of white."""

TO_709 = np.array(
    [[1.660491, -0.587641, -0.072850], [-0.124550, 1.132900, -0.008349], [-0.018151, -0.100579, 1.118730]]
)
"""BT.2020 to BT.709 primaries in linear light (BT.2407)."""

_LUMA = np.array([0.2627, 0.6780, 0.0593])
_reformatter = VideoReformatter()


def is_wide(frame: av.VideoFrame) -> bool:
    return frame.color_trc in (PQ, HLG) or frame.color_primaries == 9


def pq_light(signal: np.ndarray) -> np.ndarray:
    """PQ signal 0..1 to cd/m² (BT.2100, table 4)."""
    m1, m2, c1, c2, c3 = 2610 / 16384, 2523 / 4096 * 128, 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32
    power = np.power(np.clip(signal, 0, 1), 1 / m2)
    return 10_000 * np.power(np.maximum(power - c1, 0) / (c2 - c3 * power), 1 / m1)


def hlg_scene(signal: np.ndarray) -> np.ndarray:
    """HLG signal 0..1 to scene light 0..1 (BT.2100, table 5)."""
    a, b, c = 0.17883277, 0.28466892, 0.55991073
    signal = np.clip(signal, 0, 1)
    return np.where(signal <= 0.5, signal**2 / 3, (np.exp((signal - c) / a) + b) / 12)


def rolled(light: np.ndarray) -> np.ndarray:
    """Light in shares of white, 0 and up, with all up to the peak brought below 1: straight up to the knee, then a
    smooth shoulder.

    The shoulder is the hyperbola that leaves the knee with slope 1 and reaches 1 at the peak.
    """
    over, room, reach = light - KNEE, 1 - KNEE, PEAK / WHITE - KNEE
    # y = over / (1 + k over), y(reach) = room.
    bend = (reach / room - 1) / reach
    return np.where(light <= KNEE, light, KNEE + np.maximum(over, 0) / (1 + bend * np.maximum(over, 0)))


@lru_cache(maxsize=4)
def _light_table(trc: int) -> np.ndarray:
    """Light for each of 65,536 signals: cd/m² over white for PQ, scene light for HLG, linear display light
    otherwise."""
    signal = np.arange(65536) / 65535
    if trc == PQ:
        made = pq_light(signal) / WHITE
    elif trc == HLG:
        made = hlg_scene(signal)
    else:
        made = signal**2.4
    return made.astype(np.float32)


@lru_cache(maxsize=1)
def _encode_table() -> np.ndarray:
    return np.rint(255 * np.power(np.arange(8193) / 8192, 1 / 2.4)).astype(np.uint8)


def to_rec709(frame: av.VideoFrame) -> np.ndarray:
    """A frame of wide colour as opaque (h, w, 4) uint8 RGBA in Rec.709."""
    whole = ColorRange.JPEG if frame.color_range == 2 or frame.format.is_rgb else ColorRange.MPEG
    out = _reformatter.reformat(
        frame,
        format="rgb48le",
        src_colorspace=Colorspace.BT2020 if frame.colorspace in (9, 10, 2) else Colorspace.ITU709,
        dst_colorspace=Colorspace.BT2020,
        src_color_range=whole,
        dst_color_range=ColorRange.JPEG,
        interpolation=Interpolation.BICUBIC | Interpolation.ACCURATE_RND | Interpolation.FULL_CHR_H_INT,
    )
    plane = out.planes[0]
    signal = (
        np.frombuffer(plane, np.uint16)
        .reshape(out.height, plane.line_size // 2)[:, : out.width * 3]
        .reshape(out.height, out.width, 3)
    )
    light = _light_table(frame.color_trc if frame.color_trc in (PQ, HLG) else 1)[signal]
    if frame.color_trc == HLG:
        # The system's own curve for a display of 1000 cd/m² (γ 1.2), then in shares of white.
        scene = light @ _LUMA.astype(np.float32)
        light *= (PEAK / WHITE * np.power(np.maximum(scene, 1e-6), 0.2))[..., None]
    if frame.color_primaries == 9:
        light = cv2.transform(light, TO_709.astype(np.float32))
    np.maximum(light, 0, out=light)
    if frame.color_trc in (PQ, HLG):
        most = light.max(axis=2)
        light *= (rolled(most) / np.maximum(most, 1e-6))[..., None].astype(np.float32)
    encoded = _encode_table()[np.rint(np.minimum(light, 1) * 8192).astype(np.int32)]
    return np.dstack([encoded, np.full(encoded.shape[:2], 255, np.uint8)])
