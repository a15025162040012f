"""What a document says that can't be done here is said, each thing once, and none of it is lost."""

import json

import numpy as np
import pytest
from jsonschema import Draft202012Validator

from idle_comet.core.checks.noticed import noticed
from idle_comet.core.compose import Painter, PictureMissing, evaluate, plan
from idle_comet.core.moment.course import course_of
from idle_comet.core.motion import Fixed, Key, Moving
from idle_comet.core.project.file import ProjectFileError, read_project_file, schema, write_project_file
from idle_comet.core.project.model import Clip, Footage, Media, Plain, Step, Still, Transition, Treatment, fixed
from idle_comet.core.steps import KINDS

from .rich import rich_film
from .stacked import film as stacked
from .typed import title


def with_step(**more):
    film = title("BEES")
    return film.model_copy(
        update={"clips": {"t": film.clips["t"].model_copy(update={"steps": (Step(id="s", **more),)})}}
    )


def with_content(**more):
    film = title("BEES")
    clip = film.clips["t"]
    return film.model_copy(
        update={"clips": {"t": clip.model_copy(update={"content": clip.content.model_copy(update=more)})}}
    )


@pytest.mark.parametrize(
    "film, says",
    [
        (with_step(kind="hologram"), "a step that is not known here (“hologram”)"),
        (with_step(kind="shadow", values={"depth": fixed(3)}), "no value “depth”"),
        (
            with_step(kind="shadow", values={"blur": fixed(9000)}),
            "Blur of “BEES” (Shadow) is 9000; it goes from 0 to 400 px",
        ),
        (
            with_step(kind="placement", values={"opacity": Moving(keys=(Key(at=0, value=0), Key(at=9, value=2)))}),
            "is 200; it goes from 0 to 100 %",
        ),
        (with_step(kind="shadow", values={"blur": Fixed(value="#ff0000")}), "is a number; '#ff0000' is taken as 6"),
        (
            with_step(kind="sweep", choices={"towards": "inwards"}),
            "can't be “inwards” (towards); it is taken as “right”",
        ),
        (with_step(kind="sweep", choices={"speed": "fast"}), "no choice “speed”"),
        (with_step(kind="picture_fill", media="lost"), "(lost) is not in this film"),
        (with_content(typeface="moonlight"), "The typeface “moonlight” of “BEES” is not here; Archivo stands in"),
        (with_content(size=fixed(99_999)), "Size of “BEES” (text) is 99999"),
    ],
)
def test_it_is_said_kept_and_painted(film, says):
    found = noticed(film)
    assert len(found) == 1 and says in found[0] and found[0].endswith(".")
    assert read_project_file(write_project_file(film, {}))[0] == film
    Painter(None).paint(plan(evaluate(film, 20), 64, 36))


def test_a_picture_that_is_not_there_is_said_and_painted_as_missing():
    film = title("BEES")
    film = film.model_copy(
        update={"clips": {"t": film.clips["t"].model_copy(update={"content": Footage(media="lost")})}}
    )
    assert noticed(film) == ["The picture of “BEES” (lost) is not in this film; it is shown as missing."]

    class Nothing:
        def frame(self, media, index, width, exact):
            raise PictureMissing(media)

    painted = Painter(Nothing()).paint(plan(evaluate(film, 3), 320, 180)).astype(int)
    assert (painted[..., 0] > painted[..., 2] + 60).mean() > 0.08 and painted[..., :3].max(2).min() > 40


def test_a_dissolve_without_spare_frames_says_so(heath):
    film = rich_film(heath[1])
    assert not noticed(film)
    shot = film.clips["shot-2"].model_copy(
        update={
            "opening": Transition(length=14),
            "content": film.clips["shot-2"].content.model_copy(update={"start": 2.0}),
        }
    )
    said = noticed(film.model_copy(update={"clips": {**film.clips, "shot-2": shot}}))
    assert said == [
        "The dissolve into “Shot 2” wants 7 frames of “Shot 2” before its head, and there are 2; its first frame "
        "stands still for the rest."
    ]


def test_a_sound_film_says_nothing(film):
    assert noticed(film) == []


def test_the_schema_names_every_step_with_what_can_be_set(film):
    made = schema()
    Draft202012Validator.check_schema(made)
    Draft202012Validator(made).validate(json.loads(write_project_file(film, {})))
    assert made["x-steps"].keys() == KINDS.keys()
    assert made["x-steps"]["shadow"]["values"]["blur"] == {
        "label": "Blur",
        "sort": "number",
        "unit": "px",
        "default": 6,
        "moves": True,
        "least": 0,
        "most": 400,
        "shown times": 1.0,
    }
    assert made["x-steps"]["sweep"]["choices"]["towards"]["options"][0] == "right"


@pytest.mark.parametrize(
    "text",
    [
        "[" * 100_000,
        '{"a":' * 50_000 + "1",
        "1" * 10_000,
        '{"format": "idle-comet-project", "version": ' + "9" * 6000 + "}",
        "\ud800",
    ],
)
def test_a_file_without_end_is_refused_in_a_sentence(text):
    with pytest.raises(ProjectFileError, match="not a project file|has version"):
        read_project_file(text)


def test_what_does_nothing_or_takes_everything_is_said_beside_its_clip():
    plain = Clip(id="p", track="b", name="P", head=0, length=50, content=Plain())
    over = Clip(id="t", track="a", name="T", head=0, length=50, content=Treatment())
    key = Step(id="k", kind="colour_key", values={"colour": Fixed(value="#7a8480")})
    cut = Step(id="m", kind="mask")
    for clips, id, says in (
        ((over,), "t", "Nothing lies below it"),
        ((over, plain.model_copy(update={"head": 60})), "t", "Nothing lies below it"),
        ((plain.model_copy(update={"steps": (key,)}),), "p", "takes greys with it"),
        ((plain.model_copy(update={"steps": (cut,)}),), "p", "Mask has no mask yet"),
    ):
        film = stacked(*clips)
        assert any(says in note for note in course_of(film, film.clips[id]).notes)
    whole = stacked(over, plain.model_copy(update={"steps": (key.model_copy(update={"values": {}}),)}))
    assert not course_of(whole, whole.clips["t"]).notes and not course_of(whole, whole.clips["p"]).notes


def test_a_picture_that_was_missing_is_shown_when_it_is_there_again():
    """A step over it is kept like any other, but not while what it was done to was missing."""
    glow = Step(id="g", kind="focus_blur", values={"radius": Fixed(value=4)})
    film = title("BEES")
    shot = film.clips["t"].model_copy(update={"content": Still(media="m"), "steps": (glow,)})
    media = {"m": Media(id="m", name="M", kind="still", hash="0" * 64, path="m.png", width=320, height=180, frames=1)}
    film = film.model_copy(update={"clips": {"t": shot}, "media": media})

    class Disk:
        there = False

        def frame(self, media, index, width, exact):
            if not self.there:
                raise PictureMissing(media)
            return np.full((180, 320, 4), 255, np.uint8)

    disk = Disk()
    painter = Painter(disk)

    def seen():
        painter.missing.clear()
        return painter.paint(plan(evaluate(film, 20), 320, 180))[60:120, 100:220, :3].min()

    assert seen() < 200 and seen() < 200 and seen() < 200
    disk.there = True
    assert seen() > 250
