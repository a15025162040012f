"""Edits of every kind as Hypothesis draws them, for the film of rich.py."""

from hypothesis import strategies as st

from idle_comet.core import edits as e

from . import of_clips, of_films, of_steps

DRAWN = {**of_clips.DRAWN, **of_steps.DRAWN, **of_films.DRAWN}
any_edit = st.one_of(*DRAWN.values())
DRAWN[e.Several] = st.builds(
    e.Several, label=st.just("some"), edits=st.lists(any_edit, min_size=1, max_size=3).map(tuple)
)
