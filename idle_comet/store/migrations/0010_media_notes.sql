-- What is done to show a file as it is meant.
ALTER TABLE media
  ADD COLUMN notes LONGTEXT NOT NULL DEFAULT '[]' CHECK (JSON_VALID(notes));
