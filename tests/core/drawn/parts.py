"""What edits are drawn from: what the film has and a little beyond, so that some edits fit and some do not."""

from hypothesis import strategies as st

from idle_comet.core import edits as e
from idle_comet.core.motion import Bounce, Cascade, Free, Jumps, Key, Moving, Spring, Strengths
from idle_comet.core.project.model import KeptLook, Step, Styled
from idle_comet.core.recipes import shipped_recipes
from idle_comet.demo.project import title

ids = st.sampled_from(
    [
        "title",
        "strap",
        "plain",
        "shot-1",
        "shot-2",
        "shot-3",
        "card",
        "duo",
        "duo-a",
        "wash",
        "mist",
        "hum",
        "badge",
        "emblem",
        "gone",
    ]
)
titles = st.sampled_from(["title", "title", "strap", "plain", "shot-1"])
some = st.lists(ids, min_size=1, max_size=4, unique=True).map(tuple)
some_titles = st.lists(titles, min_size=1, max_size=3, unique=True).map(tuple)
some_shots = st.lists(st.sampled_from(["shot-2", "hum", "title"]), min_size=1, max_size=2, unique=True).map(tuple)
new = st.sampled_from(["new", "newer", "title"])
seed = st.sampled_from(["n", "n-1"])
tracks = st.sampled_from(["titles", "more", "shots", "nowhere"])
frames = st.integers(0, 130)
inside = st.integers(0, 40)
length = st.integers(1, 60)
number = st.floats(-300, 300)
texts = st.text(max_size=30) | st.sampled_from(["", "Ágota\nहिन्दी", "مرحبا", "👩‍🌾 bees"])
steps = st.sampled_from(["focus", "placement", "placement", "reveal", "backing", "rule", "place", "content", "none"])
eases = st.one_of(
    st.builds(Strengths, start=st.floats(0, 1), end=st.floats(0, 1)),
    st.builds(Free, x1=st.floats(0, 1), y1=st.floats(-3, 3), x2=st.floats(0, 1), y2=st.floats(-3, 3)),
    st.sampled_from([Spring(), Bounce(), Jumps(count=3)]),
)
moving = st.lists(st.tuples(inside, st.floats(0, 1), eases), min_size=1, max_size=4, unique_by=lambda key: key[0]).map(
    lambda keys: Moving(
        keys=tuple(Key(at=at, value=value, ease=ease) for at, value, ease in sorted(keys, key=lambda key: key[0]))
    )
)
where = {
    "clip": st.sampled_from(["title", "title", "title", "strap", "gone"]),
    "step": st.sampled_from(["placement", "placement", "placement", "focus", "focus/like", "place", "content"]),
    "name": st.sampled_from(["opacity", "y", "path", "rotation", "radius", "size", "strength", "nothing"]),
}
some_keys = st.lists(
    st.builds(
        e.KeyRef,
        clip=st.sampled_from(["title", "title", "strap"]),
        step=st.just("placement"),
        name=st.sampled_from(["opacity", "y", "path"]),
        key=st.integers(1, 4),
    ),
    min_size=1,
    max_size=4,
    unique=True,
).map(tuple)
cascades = st.builds(
    Cascade,
    unit=st.sampled_from(["all", "line", "word", "letter"]),
    order=st.sampled_from(["forward", "random", "from the middle"]),
    by=st.sampled_from(["delay", "fit", "overlap", "times"]),
    times=st.lists(st.floats(0, 30), max_size=3).map(tuple),
    delay=st.floats(0, 40),
)
recipes = st.sampled_from(list(shipped_recipes().values()))
styles = st.tuples(st.integers(0, 20), st.integers(1, 12)).flatmap(
    lambda at: st.builds(
        Styled,
        start=st.just(at[0]),
        end=st.just(sum(at)),
        colour=st.none() | st.just("#d98e32"),
        size=st.none() | st.floats(0.2, 3),
        typeface=st.none() | st.just("fraunces"),
    )
)
copied = st.lists(
    st.builds(
        e.CopiedKey,
        step=st.just("placement"),
        step_kind=st.none() | st.just("placement"),
        name=st.sampled_from(["opacity", "y"]),
        after=st.integers(0, 20),
        value=st.floats(0, 1),
        ease=eases,
    ),
    min_size=1,
    max_size=3,
).map(tuple)
clips = st.sampled_from(["new", "newer", "plain"]).flatmap(
    lambda id: st.builds(
        lambda head, track: title(head, 30).model_copy(update={"id": id, "track": track}), frames, tracks
    )
)

looks = st.builds(
    KeptLook,
    id=st.sampled_from(["nothing", "far", "old-print"]),
    name=st.just("Far"),
    steps=st.sampled_from(
        [
            (Step(id="a", kind="vignette"), Step(id="b", kind="picture_fill", media="elsewhere")),
            (Step(id="a", kind="placement"),),
        ]
    ),
)
points = st.sampled_from(["clasp", "clasp", "lantern", "gone"])
pointed = {"clip": st.sampled_from(["shot-3", "shot-3", "title"]), "point": points}
masked = {"clip": st.sampled_from(["title", "wash", "wash"]), "step": st.sampled_from(["soft", "soft", "focus"])}
