"""Reading and writing media files (PyAV)."""
