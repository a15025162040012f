"""The document, the edits that change it, and what an edit leaves behind for undo."""
