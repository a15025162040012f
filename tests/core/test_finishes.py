"""Ready pulses, steps that come together, looks that are kept, and the unsteady gate."""

import numpy as np
import pytest

from idle_comet.core.edits import AddStep, AddTogether, EditError, RemoveLook, SaveLook, TrimClip, UseLook, apply
from idle_comet.core.moment.moment import Moment
from idle_comet.core.project.model import Clip, Plain, Step, Text, fixed
from idle_comet.core.recipes.together import TOGETHER

from .stacked import HEIGHT, WIDTH, film, seen, square


def words(*steps, length=200):
    content = Text(text="swarm", size=fixed(60))
    return Clip(id="w", track="a", name="Words", head=0, length=length, content=content, steps=steps)


def value(project, step, name, frame):
    return Moment(project, frame).value("w", step, name)


@pytest.mark.parametrize("length", [40, 120, 201, 333])
def test_a_pulse_fits_its_clip_a_whole_number_of_times_and_ends_as_it_began(length):
    made, _ = apply(
        film(words(length=length)), AddStep(clip="w", step=Step(id="g", kind="glow"), at=0, ready="glow-pulse")
    )

    def gains(project, last):
        return np.array([value(project, "g", "gain", frame) for frame in range(last)])

    found = gains(made, length)
    pulses = max(1, round((length - 1) / 50))
    assert found[0] == found[-1] == pytest.approx(0.3) and found.max() == pytest.approx(2.4, abs=0.12)
    tops = [at for at in range(1, length - 1) if found[at] > found[at - 1] and found[at] >= found[at + 1]]
    assert len(tops) == pulses
    # A pulse that is trimmed still ends with its clip.
    shorter, _ = apply(made, TrimClip(clip="w", head=0, length=length - 13))
    assert gains(shorter, length - 13)[-1] == pytest.approx(0.3)


def test_a_glitch_takes_twelve_frames_and_ends_clean():
    plain = film(words())
    made, back = apply(plain, AddTogether(clip="w", name="glitch-in", at=0, seed="new"))
    assert [step.kind for step in made.clips["w"].steps] == ["fray", "signal_tear"]
    assert seen(made, 0).max() == 0
    changed = [np.abs(seen(made, at) - seen(plain, at)).max() for at in range(15)]
    assert min(changed[:11]) > 60 and changed[12:] == [0, 0, 0]
    assert apply(made, back)[0] == plain
    with pytest.raises(EditError, match="already has steps"):
        apply(made, AddTogether(clip="w", name="glitch-in", at=0, seed="new"))


@pytest.mark.parametrize("name", TOGETHER)
def test_steps_that_go_together_are_in_proportion_to_the_frame(name):
    small, _ = apply(film(words()), AddTogether(clip="w", name=name, at=0, seed="new"))
    tears = small.clips["w"].steps[0], TOGETHER[name].steps[0]
    for mask, whole in zip(*(step.masks for step in tears)):
        assert mask.values["x"].value == pytest.approx(whole.values["x"].value / 4)
    assert seen(small, 30).max() > 100


def test_a_look_is_kept_without_motion_and_put_on_another_clip():
    toned = (
        Step(id="t", kind="tone_colours", values={"strength": fixed(0.8)}),
        Step(id="v", kind="vignette", since=10),
        Step(id="gone", kind="grain", on=False),
        Step(id="placement", kind="placement", values={"x": fixed(20)}),
    )
    one = square("one", "#808080", "a").model_copy(update={"steps": toned})
    other = Clip(id="other", track="b", name="o", head=0, length=50, content=Plain(colour="#808080"))
    own, _ = apply(film(one, other), SaveLook(clip="one", look="mine", name="Mine"))
    assert [step.kind for step in own.settings.looks[0].steps] == ["tone_colours", "vignette"]
    looked, _ = apply(own, UseLook(clips=("other",), look="mine"))
    assert [step.id for step in looked.clips["other"].steps] == ["look-1", "look-2"]
    assert looked.clips["other"].steps[1].since == 0
    again, _ = apply(looked, UseLook(clips=("other",), look="frost"))
    assert {step.kind for step in again.clips["other"].steps} == {"colour_grade", "lift_gamma_gain"}
    freed, back = apply(looked, RemoveLook(look="mine"))
    assert len(freed.clips["other"].steps) == 2 and apply(freed, back)[0] == looked
    # Another film takes it over, and keeps it; what that film has not, such as a picture, stays behind.
    far = own.settings.looks[0]
    filled = Step(id="look-3", kind="picture_fill", media="heath")
    far = far.model_copy(update={"steps": (*far.steps, filled, Step(id="x", kind="placement"))})
    fetched, back = apply(film(other), UseLook(clips=("other",), look="mine", brought=far))
    assert [(step.kind, step.media) for step in fetched.clips["other"].steps] == [
        ("tone_colours", None), ("vignette", None), ("picture_fill", None)]  # fmt: skip
    assert fetched.settings.looks[0].id == "mine" and apply(fetched, back)[0] == film(other)
    for edit, says in (
        (
            UseLook(clips=("one",), look="sly", brought=far.model_copy(update={"id": "sly", "steps": far.steps[-1:]})),
            "no look of a film",
        ),
        (SaveLook(clip="other", look="x", name="X"), "no step that finishes"),
        (SaveLook(clip="one", look="frost", name="X"), "ships with the product"),
        (RemoveLook(look="gone"), "no look “gone”"),
    ):
        with pytest.raises(EditError, match=says):
            apply(own, edit)


@pytest.mark.parametrize("given", [{}, {"across": 9, "down": 6, "turn": 2, "jump": 12, "rate": 9, "often": 0.5}])
def test_the_gate_weaves_within_its_amounts_and_never_shows_an_edge(given):
    step = Step(id="g", kind="gate_weave", values={name: fixed(value) for name, value in given.items()})
    white = Clip(id="w", track="a", name="w", head=0, length=400, content=Plain(colour="#ffffff"), steps=(step,))
    marked = square("m", "#ffffff", "a", size=0.2).model_copy(update={"length": 400})
    held = marked.model_copy(update={"steps": (*marked.steps, step.model_copy(update={"choices": {"edges": "seen"}}))})
    places = []
    for frame in range(0, 400, 13):
        assert seen(film(white, background="#ff0000"), frame).min() == 255
        y, x = np.nonzero(seen(film(held), frame)[..., 0] > 127)
        places.append((x.mean() + 0.5 - WIDTH / 2, y.mean() + 0.5 - HEIGHT / 2))
    across, down = np.array(places).T
    assert 0.2 < np.abs(across).max() <= given.get("across", 1.2) + 0.4
    assert np.abs(down).max() <= given.get("down", 1.8) + given.get("jump", 0) + 0.5
