"""Recipes on any words, the series' style, reading times, and words replaced."""

import json

import av
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.captions.reading_time import reading_seconds
from idle_comet.core.checks.reading import texts_of, words_of
from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddFromRecipe,
    AddTitles,
    ChangeText,
    EditError,
    HoldChoice,
    RemovePaletteColour,
    ReplaceWords,
    Reset,
    SaveTypeStyle,
    SetPaletteColour,
    SetProperty,
    TrimClip,
    UsePaletteColour,
    UseRecipe,
    UseTypeStyle,
)
from idle_comet.core.moment.course import course_of
from idle_comet.core.moment.placed import total_matrix
from idle_comet.core.moment.standing import stand
from idle_comet.core.motion import Driven, Fixed, Tether, Wobble
from idle_comet.core.project.model import Mask, PaletteColour, Project, Settings, Step
from idle_comet.core.recipes import RecipeError, missing_parts, read_recipe, recipe_of, shipped_recipes, write_recipe
from idle_comet.core.steps import KINDS
from idle_comet.media.film import Order, render_film

from .typed import edited, frame, ink_box, title

SHELF = shipped_recipes()


def of_recipe(id, words=None, **settings):
    film = Project(settings=Settings(name="R", **settings))
    return edited(film, AddFromRecipe(new="t", frame=0, recipe=SHELF[id], texts=(words,) if words else ()))


def test_the_shelf_is_as_wide_as_it_says():
    arrivals = {
        step.kind
        for recipe in SHELF.values()
        for step in recipe.steps
        if any(prop.state != "fixed" for prop in step.values.values())
    }
    assert len(SHELF) >= 20 and len({recipe.content.typeface for recipe in SHELF.values()}) >= 8
    assert len([kind for kind in arrivals if KINDS[kind].group == "arrival"]) >= 10
    assert {recipe.sort for recipe in SHELF.values()} == {
        "title",
        "strap",
        "chapter",
        "quote",
        "counter",
        "end card",
        "credits",
        "caption",
    }
    assert not [missing_parts(recipe) for recipe in SHELF.values() if missing_parts(recipe)]


@pytest.mark.parametrize("id", SHELF)
@pytest.mark.parametrize(
    "words, frames",
    [
        ("Wax", 50),
        ("The Slow Harvest\nepisode two", 100),
        ("Nobody told the heather that the summer had been a dry one", 300),
    ],
)
def test_every_recipe_holds_short_and_long_words_for_short_and_long(id, words, frames):
    film = edited(of_recipe(id, words), TrimClip(clip="t", head=0, length=frames))
    rolls = SHELF[id].sort == "credits"
    middle = frame(film, round(frames * 0.55), 640, 360)
    assert middle.max() > 100, "words are there in the stay"
    seen = ink_box(middle, 24)
    if not rolls:
        assert seen[0] > 4 and seen[1] > 4 and seen[2] < 636 and seen[3] < 356, "and inside the frame"
    # It comes from nothing and ends in nothing, however long the clip is; a caption is there from its time to its time.
    if SHELF[id].sort == "caption":
        return
    assert frame(film, frames - 1, 640, 360).mean() < 0.12 * middle.mean() + 0.6
    assert frame(film, 0, 640, 360).mean() < 0.5 * middle.mean() + 0.3


def test_a_recipe_keeps_words_and_place_in_time_and_replaces_the_former_one():
    film = edited(of_recipe("skep", "Found at dawn"), UseRecipe(clips=("t",), recipe=SHELF["marrow-lane"]))
    clip = film.clips["t"]
    assert (
        clip.content.text == "Found at dawn"
        and clip.recipe == "marrow-lane"
        and {step.id for step in clip.steps} == {step.id for step in SHELF["marrow-lane"].steps}
    )
    both = edited(film, UseRecipe(clips=("t",), recipe=SHELF["torn-label"], adds=True)).clips["t"]
    assert (
        both.content == clip.content
        and both.steps[: len(clip.steps)] == clip.steps
        and len(both.steps) == len(clip.steps) + len(SHELF["torn-label"].steps)
    )
    assert len({step.id for step in both.steps}) == len(both.steps)
    plain = edited(film, Reset(clips=("t",))).clips["t"]
    assert (
        [step.kind for step in plain.steps] == ["placement"]
        and plain.content.text == "Found at dawn"
        and plain.arrival == 0
    )


def test_a_recipe_looks_alike_in_another_size_and_rate():
    small, large = of_recipe("marrow-lane"), of_recipe("marrow-lane", width=2560, height=1440, rate={"num": 50})
    assert (
        large.clips["t"].length == 2 * small.clips["t"].length
        and large.clips["t"].arrival == 2 * small.clips["t"].arrival
    )
    for at in (8, 20, 60):
        one, other = (
            Painter(None).paint(plan(evaluate(film, when), 640, 360))[..., 0].astype(float)
            for film, when in ((small, at), (large, 2 * at))
        )
        assert np.abs(one - other).mean() < 0.05


def test_fill_ins_go_where_they_belong():
    film = edited(
        Project(settings=Settings(name="R")),
        AddFromRecipe(
            new="t",
            frame=0,
            recipe=SHELF["marrow-lane"],
            fills={"words": "never", "bar": "#00ff00", "role": "#0000ff", "ink": "#ff0000"},
            texts=("Isko\ncarpenter",),
        ),
    )
    clip = film.clips["t"]
    rule = next(step for step in clip.steps if step.id == "rule")
    assert (
        rule.values["colour"] == Fixed(value="#00ff00")
        and clip.content.colour == Fixed(value="#ff0000")
        and clip.content.ranges[0].colour == "#0000ff"
    )
    assert clip.content.text == "Isko\ncarpenter"


@pytest.mark.parametrize("id", ["marrow-lane", "honeycomb", "tally"])
def test_a_recipe_made_of_a_title_makes_the_same_title_again(id):
    film = of_recipe(id)
    made = recipe_of(film, film.clips["t"], "own-1", "Mine", "title", "note")
    again = edited(film, UseRecipe(clips=("t",), recipe=read_recipe(write_recipe(made))))
    for at in (4, 20, 60):
        assert np.array_equal(frame(again, at, 320, 180), frame(film, at, 320, 180))


@pytest.mark.parametrize(
    "text, why",
    [
        ("{", "no JSON at line 1"),
        ('{"format": "something"}', "says something else"),
        ('{"format": "idle-comet-recipe", "version": 9}', "version 9; this Idle Comet reads version 1"),
        ('{"format": "idle-comet-recipe", "version": 1, "id": "x"}', "can't be read at name"),
    ],
)
def test_what_is_no_recipe_is_refused_in_a_sentence(text, why):
    with pytest.raises(RecipeError, match=why):
        read_recipe(text)


def test_a_recipe_without_its_typeface_or_a_step_still_works_and_says_so():
    raw = json.loads(write_recipe(SHELF["skep"]))
    raw["content"]["typeface"] = "gone"
    raw["steps"].append({"id": "odd", "kind": "unheard-of"})
    recipe = read_recipe(json.dumps(raw))
    assert len(missing_parts(recipe)) == 2
    film = edited(Project(settings=Settings(name="R")), AddFromRecipe(new="t", frame=0, recipe=recipe))
    assert frame(film, 60).max() > 100 and any("missing" in note for note in course_of(film, film.clips["t"]).notes)


def test_several_lines_become_several_straps():
    film = edited(
        of_recipe("marrow-lane", "Ottoline Brask\nhead beekeeper"),
        AddTitles(
            clip="t",
            seed="s",
            texts=("Isko Tamm\nhive carpenter", "Wren Hallowes\ncandle maker", "Davit Omorodi\nswarm catcher"),
        ),
    )
    clips = sorted(film.clips.values(), key=lambda clip: clip.head)
    assert [clip.name for clip in clips] == [
        "Isko Tamm hive carpenter",
        "Wren Hallowes candle maker",
        "Davit Omorodi swarm catcher",
    ]
    assert all(a.end <= b.head for a, b in zip(clips, clips[1:])) and all(
        clip.steps == clips[0].steps for clip in clips
    )
    assert all(clip.content.ranges[0].start == clip.content.text.index("\n") + 1 for clip in clips)


def test_titles_of_a_series_stand_on_one_line_whatever_their_letters():
    before = title("Agape", size=80)
    film = edited(before, AddTitles(clip="t", seed="s", texts=("Agape", "nave", "Mjöll")))
    # What was there stays where it is.
    assert np.abs(frame(film, 50) - frame(before, 50)).max() <= 1
    baselines = []
    for clip in film.clips.values():
        (layer,) = evaluate(film, clip.head + 50).layers
        standing = stand(layer.content, 1280, 720)
        baselines.append(total_matrix(layer, standing).map(0, standing.layout.lines[0].baseline)[1])
    assert baselines == pytest.approx([baselines[0]] * 3, abs=1e-6)


# ---- the series' style


def test_a_colour_of_the_palette_changes_every_title_that_refers_to_it():
    film = edited(title("One"), SetPaletteColour(colour=PaletteColour(id="honey", name="Honey", value="#f0b440")))
    film = film.model_copy(
        update={"clips": {**film.clips, "u": film.clips["t"].model_copy(update={"id": "u", "head": 200})}}
    )
    film = edited(film, UsePaletteColour(clips=("t",), step="content", name="colour", colour="honey"))
    changed = edited(film, SetPaletteColour(colour=PaletteColour(id="honey", name="Honey", value="#00ff00")))
    assert (
        changed.clips["t"].content.colour == Fixed(value="#00ff00")
        and changed.clips["u"].content.colour == film.clips["u"].content.colour
    )
    freed = edited(
        changed,
        RemovePaletteColour(colour="honey"),
        SetPaletteColour(colour=PaletteColour(id="honey", name="Honey", value="#0000ff")),
    )
    assert freed.clips["t"].content.colour == Fixed(value="#00ff00")
    with pytest.raises(EditError, match="no colour"):
        edited(film, UsePaletteColour(clips=("t",), step="content", name="size", colour="honey"))


def test_a_type_style_sets_titles_and_keeps_their_words_place_and_motion():
    film = of_recipe("honeycomb", "Sweet water")
    film = edited(film, SaveTypeStyle(clip="t", style="honey", name="Honey"))
    other = title("Another", "placement", "rise").clips["t"].model_copy(update={"id": "other", "head": 300})
    film = edited(
        film.model_copy(update={"clips": {**film.clips, "other": other}}), UseTypeStyle(clips=("other",), style="honey")
    )
    now = film.clips["other"]
    assert (
        now.content.text == "Another"
        and now.content.typeface == "unbounded"
        and [step.kind for step in now.steps] == ["gradient", "outline", "shadow", "placement"]
    )
    assert now.steps[-1].values == other.steps[-1].values and now.arrival == other.arrival
    # Changed on one title and saved again, all others follow; what was left follows no more.
    film = edited(
        film,
        SetProperty(clip="t", step="content", name="weight", property=Fixed(value=300)),
        SaveTypeStyle(clip="t", style="honey", name="Honey"),
    )
    assert film.clips["other"].content.weight == Fixed(value=300)
    film = edited(
        film,
        UseTypeStyle(clips=("other",), style=None),
        ChangeText(clip="t", typeface="bitter"),
        SaveTypeStyle(clip="t", style="honey", name="Honey"),
    )
    assert film.clips["other"].content.typeface == "unbounded"


# ---- words


def test_reading_time_is_held_against_the_time_words_are_there():
    film = title("Found at dawn above the heath", length=100, arrival=0, departure=0)
    assert reading_seconds("") == 0 and reading_seconds("a" * 15) == pytest.approx(1.3)
    (told,) = texts_of(film)
    assert told.shown == pytest.approx(4.0, abs=0.05) and told.reading == pytest.approx(0.3 + 29 / 15, abs=0.01)
    late = title("Found at dawn above the heath", "placement", "rise", length=100, arrival=40, departure=40)
    # Linear-in-time halves: legible from the middle of the arrival to the middle of the departure.
    assert texts_of(late)[0].shown == pytest.approx(60 / 25, abs=0.1)
    held = edited(film, HoldChoice(clip="t", name="text", frame=60, value="and by noon gone"))
    first, second = words_of(held, held.clips["t"])
    assert (
        (first.first, first.end, second.first, second.end) == (0, 60, 60, 100)
        and second.key == 1
        and second.text == "and by noon gone"
    )


def test_words_are_found_and_replaced_everywhere_they_stand():
    film = edited(title("The hive and the Hives"), HoldChoice(clip="t", name="text", frame=50, value="one hive"))
    after = edited(film, ReplaceWords(find="hive", by="skep", whole_words=True))
    assert (
        after.clips["t"].content.text == "The skep and the Hives"
        and after.clips["t"].content.held["text"][0].value == "one skep"
    )
    assert edited(film, ReplaceWords(find="hive", by="skep")).clips["t"].content.text == "The skep and the skeps"
    assert (
        edited(film, ReplaceWords(find="Hive", by="Skep", capitals_count=True)).clips["t"].content.text
        == "The hive and the Skeps"
    )
    with pytest.raises(EditError, match="No title has"):
        edited(film, ReplaceWords(find="wasp", by="bee"))


@settings(max_examples=40)
@given(st.text(min_size=1, max_size=6), st.text(max_size=6), st.text(max_size=20))
def test_any_words_can_be_replaced_by_any(find, by, words):
    film = edited(title("x"), ChangeText(clip="t", text=words.replace("\x00", "")))
    if find.lower() not in film.clips["t"].content.text.lower():
        return
    try:
        after = edited(film, ReplaceWords(find=find, by=by, capitals_count=True))
    except EditError:
        return
    assert after.clips["t"].content.text == film.clips["t"].content.text.replace(find, by)


def test_what_is_exported_of_a_recipe_is_what_was_painted(tmp_path):
    """A strap with windows, units and motion blur, decoded from its film."""
    film = of_recipe("marrow-lane", "Ágota Ýrsson-Jędrzejczyk\nhead beekeeper")
    out = tmp_path / "strap.mp4"
    render_film(film, None, out, Order(0, 41, 640, 360, 8))
    with av.open(str(out)) as container:
        decoded = [picture.to_ndarray(format="rgb24").astype(float) for picture in container.decode(video=0)]
    for at in (8, 14, 20, 40):
        painted = Painter(None).paint(plan(evaluate(film, at), 640, 360))[..., :3].astype(float)
        assert 10 * np.log10(255**2 / ((decoded[at] - painted) ** 2).mean()) > 38


def test_a_roll_that_is_too_quick_to_read_says_how_long_it_needs():
    film = of_recipe("roll-of-hands")
    quick = edited(film, TrimClip(clip="t", head=0, length=50))
    (note,) = [note for note in course_of(quick, quick.clips["t"]).notes if "rolls faster" in note]
    needed = float(note.split(" s.")[0].rsplit(" ", 1)[1])
    slow = edited(film, TrimClip(clip="t", head=0, length=round(needed * 25) + 2))
    assert not [note for note in course_of(slow, slow.clips["t"]).notes if "rolls faster" in note]


def test_a_recipe_needs_no_other_clip_of_the_film_it_was_made_in():
    film = title("BEES")
    tethered = Driven(motor=Tether(clip="gone"), rest=12)
    masks = (Mask(id="pane", form="clip", clip="t"), Mask(id="own", values={"x": tethered}))
    steps = (
        Step(id="soft", kind="focus_blur", masks=masks),
        Step(id="move", kind="placement", values={"x": tethered, "y": Driven(motor=Wobble())}),
    )
    clip = film.clips["t"].model_copy(update={"steps": steps})
    soft, move = recipe_of(film, clip, "own-1", "Mine", "title").steps
    assert [mask.id for mask in soft.masks] == ["own"] and soft.masks[0].values["x"].state == "fixed"
    assert move.values["x"] == Fixed(value=12) and move.values["y"].state == "driven"


@pytest.mark.parametrize("id", [id for id, recipe in SHELF.items() if recipe.sort in ("strap", "caption")])
def test_what_belongs_to_a_series_stands_at_one_height_whatever_it_says(id):
    def baseline(words):
        film = of_recipe(id, words)
        (clip,) = film.clips.values()
        layer = evaluate(film, clip.head + clip.length // 2).layers[0]
        return stand(layer.content, film.settings.width, film.settings.height).matrix.map(0, 0)[1]

    assert baseline("Mara Quill") == pytest.approx(baseline("gypsy")) == pytest.approx(baseline("ÁÅ"))
