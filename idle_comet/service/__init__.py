"""The web service: projects, edits, frames, exports."""
