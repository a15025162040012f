"""Ensembles: recipes of several clips, in any film, as long as they may be, filled in."""

import json

import cv2
import numpy as np
import pytest

from idle_comet.cli.ensembles import build
from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddMedia,
    DuplicateClips,
    EditError,
    FillEnsemble,
    GatherClips,
    RemoveClips,
    UseEnsemble,
    ensemble_of,
)
from idle_comet.core.edits.values import property_of
from idle_comet.core.moment.whereabouts import whereabouts_of
from idle_comet.core.project.model import Media, Project, Settings, Text
from idle_comet.core.project.timeline import film_length, timeline_of
from idle_comet.core.project.validity import check_whole
from idle_comet.core.recipes import RecipeError, read_ensemble, shipped_ensembles, write_ensemble

from .test_emblems import emblem
from .typed import coloured_frame, edited

SHELF = shipped_ensembles()
every = pytest.mark.parametrize("id", SHELF)


def film(**settings):
    return Project(settings=Settings(name="E", **settings))


def laid(id, frame=0, into=None, **more):
    return edited(into or film(), UseEnsemble(ensemble=SHELF[id], frame=frame, seed="n", **more))


def look(project, at, width=320, height=180):
    return Painter(None).paint(plan(evaluate(project, at), width, height))[..., :3].astype(float)


def test_what_ships_is_what_the_edits_make():
    made = {each.id: each for each in build()}
    assert len(made) >= 8 and {each.sort for each in made.values()} == {each.sort for each in SHELF.values()}
    for id, each in made.items():
        # But for where a sound is loudest, which is measured anew.
        assert each.film.clips == SHELF[id].film.clips and each.parts == SHELF[id].parts, f"./comet ensembles ({id})"


@every
def test_it_is_laid_into_any_film_and_looks_alike(id):
    ensemble = SHELF[id]
    small = laid(id, 40)
    assert film_length(small) == 40 + ensemble.length
    large = laid(id, 80, film(width=1920, height=1080, rate={"num": 50}))
    check_whole(large)
    for share in (0.15, 0.4, 0.8):
        at = round(ensemble.length * share)
        one, other = look(small, 40 + at), look(large, 80 + 2 * at)
        # Grain is another at every frame of either rate.
        off = np.abs(cv2.blur(one, (9, 9)) - cv2.blur(other, (9, 9))).mean()
        assert one.max() > 60 and off < 1.2, (share, off)
    assert look(small, 39).max() == 0


@every
def test_what_it_says_may_stretch_stretches_and_the_rest_does_not(id):
    ensemble = SHELF[id]
    if not ensemble.stretches:
        with pytest.raises(EditError, match="can't be stretched"):
            laid(id, length=ensemble.length + 20)
        return
    longer = ensemble.length + 45
    plain, stretched = laid(id), laid(id, length=longer)
    assert film_length(stretched) == longer
    # What goes on through all of it, such as a camera's way, is a little slower from the beginning on.
    most = 3.0 if ensemble.sort == "in depth" else 0.3
    for at in (0, ensemble.head // 2, ensemble.head - 1):
        assert np.abs(look(plain, at) - look(stretched, at)).mean() < most, "it comes as it came"
    for back in (1, max(1, ensemble.tail // 2), max(1, ensemble.tail - 1)):
        one, other = look(plain, ensemble.length - back), look(stretched, longer - back)
        assert np.abs(one - other).mean() < 0.3, "and goes as it went"
    shortest = laid(id, length=ensemble.head + ensemble.tail + 1)
    check_whole(shortest)
    with pytest.raises(EditError, match="frames at least"):
        laid(id, length=ensemble.head + ensemble.tail)


def still(id, name):
    digest = "a" * 64
    return Media(id=id, name=name, kind="still", hash=digest, path=f"{digest}.png", width=90, height=60, frames=1)


@every
def test_every_part_can_be_filled_in(id):
    ensemble = SHELF[id]
    picture, sound = still("photo", "A photograph"), next(iter(SHELF["end-card"].film.media.values()))
    ground = edited(film(), AddMedia(media=picture), AddMedia(media=sound))
    values = {"words": "Wren Hallowes", "colour": "#12ab34", "picture": "photo", "sound": sound.id}
    assert any(part.kind in ("words", "picture") for part in ensemble.parts)
    bare = laid(id, 0, ground)
    for kinds in (("words", "colour"), ("picture", "sound"), tuple(values)):
        parts = [part for part in ensemble.parts if part.kind in kinds]
        fills = {part.name: values[part.kind] for part in parts}
        after = edited(bare, FillEnsemble(ensemble=ensemble, seed="n", fills=fills))
        assert after.clips == laid(id, 0, ground, fills=fills).clips, "filled in before or after is the same"
        assert Project.model_validate_json(after.model_dump_json()) == after
        for part in parts:
            for clip, owner, name in (_found(after, ensemble, place) for place in part.places):
                if part.kind == "words":
                    assert clip.content.text == "Wren Hallowes"
                elif part.kind in ("picture", "sound"):
                    assert clip.content.media == values[part.kind]
                elif owner != "content" or kinds != tuple(values):
                    # A picture has not the colours of what it took the place of.
                    assert property_of(clip, owner, name).value == values["colour"]


def _found(film, ensemble, place):
    id, _, value = place.partition(":")
    owner, _, name = value.rpartition(".")
    return film.clips[f"n-{list(ensemble.film.clips).index(id) + 1}"], owner, name


class Photo:
    """A picture of one colour, 90 × 60."""

    def frame(self, media, index, width, exact):
        return np.full((60, 90, 4), (200, 30, 30, 255), np.uint8)


def test_a_picture_in_the_place_of_a_shape_stands_in_its_room():
    ground = edited(film(), AddMedia(media=still("photo", "A photograph")))
    card = laid("turning-card", 0, ground, fills={"front": "photo"})
    pixels = Painter(Photo()).paint(plan(evaluate(card, 40), 1280, 720))[..., :3].astype(float)
    red = np.argwhere((pixels[..., 0] > 150) & (pixels[..., 1] < 60))
    (top, left), (foot, right) = red.min(0), red.max(0)
    # As large as fits within 560 × 340, in the middle of the frame.
    assert (right - left + 1, foot - top + 1) == pytest.approx((510, 340), abs=2)
    assert ((left + right) / 2, (top + foot) / 2) == pytest.approx((639.5, 359.5), abs=1)


def test_clips_in_hand_become_one_and_look_as_they_did_in_another_film():
    source = laid("cell-and-stroke", 30, laid("pair-named").model_copy(update={"clips": {}, "tracks": ()}))
    outer = [clip.id for clip in source.clips.values() if timeline_of(source, clip) is None]
    kept = ensemble_of(source, outer, "mine", "Mine", "emblem")
    again, files = read_ensemble(write_ensemble(kept, {"a.png": "QQ=="}))
    assert again == kept and files == {"a.png": "QQ=="}
    other = edited(film(), UseEnsemble(ensemble=again, frame=7, seed="m"))
    for at in (5, 40, 60, 80, 120):
        assert np.abs(look(source, 30 + at) - look(other, 7 + at)).max() <= 1
    with pytest.raises(EditError, match="another timeline"):
        card = laid("end-card")
        inside = next(clip.id for clip in card.clips.values() if timeline_of(card, clip) is not None)
        ensemble_of(card, ["n-1", inside], "x", "X", "card")


def test_a_copied_group_is_wiped_by_its_own_pieces():
    from idle_comet.core.edits import Uncover

    group = edited(emblem(), Uncover(clip="hex", by="bar"), GatherClips(clips=("hex", "bar"), group="g"))
    two = edited(group, DuplicateClips(clips=("g",), seed="n"))
    copies = [clip for clip in two.clips.values() if timeline_of(two, clip) == "n-1"]
    mask = next(step for clip in copies for step in clip.steps if step.kind == "mask").masks[0]
    assert mask.clip in {clip.id for clip in copies}
    assert two.clips["n-1"].head == 120
    assert np.abs(coloured_frame(two, 40) - coloured_frame(two, 160)).max() <= 1


def test_the_end_card_is_uncovered_by_its_own_edges_and_clicks_as_it_turns():
    card = laid("end-card")
    names = {each.name: each for each in card.clips.values() if timeline_of(card, each) is None}
    ground = laid("end-card", 0).clips[names["Ground"].id]
    bare = card.model_copy(update={"clips": {ground.id: ground}})
    left, right = [], []
    for at in range(10, 45, 2):
        off = np.abs(coloured_frame(card, at) - coloured_frame(bare, at)).max(-1) > 12
        off[420:] = False
        columns = np.flatnonzero(off.any(0))
        if len(columns):
            left.append(columns[columns < 640].min(initial=640))
            right.append(columns[columns >= 640].max(initial=640))
    # Nothing of the emblem is ever seen left of its edge, nor of the panel right of its own.
    assert min(left) >= 149 and max(right) <= 1141 and min(left) < 160 and max(right) > 1110
    panel = names["Panel"]
    layer = next(each for each in evaluate(card, 108).layers if each.clip == panel.id)
    assert whereabouts_of(layer, 1280, 720).matrix.scale < 1e-6, "edge-on at the middle of its turn"
    assert names["Click"].head == 100 and names["Whoosh"].content.speed.value == 0.5
    assert names["Bed"].content.fade_out == 40 and names["Bed"].end == film_length(card) == 215


def astray():
    """An ensemble one of whose clips lies on no track."""
    ensemble = SHELF["pair-named"]
    clips = {id: each.model_copy(update={"track": "gone"}) for id, each in ensemble.film.clips.items()}
    return ensemble.model_copy(update={"film": ensemble.film.model_copy(update={"clips": clips})})


@pytest.mark.parametrize(
    "edit, why",
    [
        (UseEnsemble(ensemble=astray(), frame=0, seed="n"), "can't be laid in"),
        (UseEnsemble(ensemble=SHELF["end-card"], frame=0, seed="n", fills={"nonsense": "x"}), "no part “nonsense”"),
        (UseEnsemble(ensemble=SHELF["end-card"], frame=0, seed="n", fills={"emblem": "gone"}), "no picture or sound"),
        (UseEnsemble(ensemble=SHELF["end-card"], frame=0, seed="n", fills={"colour 1": "honey"}), "honey"),
        (FillEnsemble(ensemble=SHELF["end-card"], seed="z", fills={"series": "x"}), "not in this film"),
    ],
)
def test_what_makes_no_sense_is_said_and_changes_nothing(edit, why):
    with pytest.raises(EditError, match=why):
        edited(film(), edit)


def test_what_is_gone_is_left_out_when_it_is_filled_in():
    card = laid("end-card")
    words = next(
        clip for clip in card.clips.values() if isinstance(clip.content, Text) and timeline_of(card, clip) is None
    )
    less = edited(card, RemoveClips(clips=(words.id,)))
    fills = {"series": "Gone", "panel after": "Kept"}
    filled = edited(less, FillEnsemble(ensemble=SHELF["end-card"], seed="n", fills=fills))
    said = sorted(clip.content.text for clip in filled.clips.values() if isinstance(clip.content, Text))
    assert said == ["Kept", "See part three"] and filled.clips.keys() == less.clips.keys()


@pytest.mark.parametrize(
    "change, why",
    [
        (lambda text: text.replace('"version": 1', '"version": 9'), "version 9"),
        (lambda text: text.replace("idle-comet-ensemble", "something"), "no recipe file"),
        (lambda text: text.replace('"track": "', '"track": "x', 1), "on a track that is not there"),
        (lambda text: text[:900], "no JSON"),
        (lambda text: text.replace('"head": 45', '"head": 140'), "only 150 long"),
        (lambda text: json.dumps({**json.loads(text), "film": {"settings": {"name": "Bare"}}}), "holds no clips"),
    ],
)
def test_a_broken_file_is_refused_with_a_sentence(change, why):
    with pytest.raises(RecipeError, match=why):
        read_ensemble(change(write_ensemble(SHELF["pair-named"])))
