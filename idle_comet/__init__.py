"""Idle Comet: animated titles, lower thirds and end cards inside a timeline."""
