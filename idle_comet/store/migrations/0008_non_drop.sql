-- Whether timecode at 29.97 and 59.94 numbers every frame.
ALTER TABLE projects
  ADD COLUMN rate_non_drop BOOLEAN NOT NULL DEFAULT FALSE;
