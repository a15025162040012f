"""Checks of a film's legibility and timing."""
