"""What the clips of a group take up of the frame."""

from __future__ import annotations

from ..picture import Rect
from ..project.model import Clip, Project
from ..project.timeline import lanes
from ..remember import Remembered
from .evaluate import evaluate_clip
from .looking import gathered_by
from .placed import total_matrix
from .standing import stand

_kept: Remembered[Project, dict[str, Rect | None]] = Remembered()

_UNSEEN = ("sound", "camera", "light", "treatment")


def ink_of_group(project: Project, group: Clip) -> Rect | None:
    """The bounds of all clips of a group as they stand in the middle of their time, px of the frame; None where they
    fill it, or where there is nothing. It is the same at all frames: what goes by it does not waver."""
    known = _kept.find(project)
    if known is None:
        known = _kept.keep(project, {})
    if group.id not in known:
        known[group.id] = _ink(project, group)
    return known[group.id]


def _ink(project: Project, group: Clip) -> Rect | None:
    settings = project.settings
    frame = Rect(0, 0, settings.width, settings.height)
    found = [_of_clip(project, clip) for lane in lanes(project, group.id) for clip in lane.clips]
    boxes = [each.meets(frame) for each in found if each is not None and not each.meets(frame).empty]
    if not boxes:
        return None
    whole = boxes[0]
    for each in boxes[1:]:
        whole = whole.union(each)
    return None if whole == frame else whole


def _of_clip(project: Project, clip: Clip) -> Rect | None:
    if clip.content.kind in _UNSEEN or clip.seen == "hidden":
        return None
    layer = evaluate_clip(project, clip, clip.length // 2, placing=True)
    if layer is None:
        return None
    standing = stand(layer.content, project.settings.width, project.settings.height)
    box = standing.cell or (standing.box if standing.ink.empty else standing.ink)
    return box.through(total_matrix(layer, standing))


gathered_by(ink_of_group)
