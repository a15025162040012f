"""What is heard: sounds at their places, mixed, and brought to the film's level."""

from .mastering import heard
from .mixing import SOUND_RATE, SoundSources, heard_at, mixed

__all__ = ["SOUND_RATE", "SoundSources", "heard", "heard_at", "mixed"]
