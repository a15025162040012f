"""Captions: read from files and written to them, heard as words with times, broken into lines."""
