"""What is heard: sounds at their places, mixed."""

from .mixing import SOUND_RATE, SoundSources, heard_at, mixed

__all__ = ["SOUND_RATE", "SoundSources", "heard_at", "mixed"]
