"""The captions of a film, as a file of them has them."""

from __future__ import annotations

from ..contents.caption import Caption
from ..project.model import CaptionTrack, Project
from .cues import Cue


def languages(project: Project) -> list[str]:
    """The languages in which a film has captions, in the order of its tracks from the top."""
    return list(dict.fromkeys(track.captions.language for track in project.tracks if track.captions is not None))


def film_captions(project: Project, language: str) -> tuple[CaptionTrack, list[Cue]]:
    """All captions in a language, in order of time, and what their file has beside them: also those on tracks that are
    not shown, without those that are hidden one by one. Raises KeyError where there are none."""
    tracks = [track for track in project.tracks if track.captions is not None and track.captions.language == language]
    if not tracks:
        raise KeyError(language)
    # The track that was made first lies lowest, and has what its file begins with.
    own = {track.id: track.captions for track in reversed(tracks)}
    rate = float(project.settings.rate.fraction)
    found = []
    for clip in project.clips.values():
        if clip.track not in own or clip.content.kind != "text" or clip.seen == "hidden":
            continue
        caption = clip.content.caption or Caption()
        begin, end = clip.head / rate + caption.early, clip.end / rate + caption.late
        text = clip.content.text
        cue = Cue(max(0, round(begin * 1000)), max(0, round(end * 1000)), text, caption.name, caption.settings,
                  caption.marked, caption.before, caption.words)  # fmt: skip
        found.append((cue.begin, cue.end, clip.id, cue))
    head = next((each for each in own.values() if each is not None and (each.head or each.foot)), None)
    first = head or next(each for each in own.values() if each is not None)
    return first, [cue for *_, cue in sorted(found, key=lambda each: (each[0], each[1], len(each[2]), each[2]))]
