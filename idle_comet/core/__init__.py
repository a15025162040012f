"""The heart: time, documents, motion, type and pixels. Knows no web, no SQL, no wall clock."""
