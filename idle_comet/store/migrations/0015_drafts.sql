-- Whether a film is painted as a draft: with fewer places a px, and lighter pictures.
ALTER TABLE exports ADD COLUMN draft BOOLEAN NOT NULL DEFAULT FALSE;
