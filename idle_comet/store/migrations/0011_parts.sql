-- Every part of a document is a row of its own, as JSON: a new field is no migration.
-- The tables before (tracks, media, clips, steps) are read once, as a film of theirs is opened, and kept as they were.
CREATE TABLE parts (
  project VARCHAR(64) NOT NULL,
  sort VARCHAR(20) NOT NULL,
  id VARCHAR(64) NOT NULL,
  place INT NOT NULL DEFAULT 0,
  body LONGTEXT NOT NULL CHECK (JSON_VALID(body)),
  PRIMARY KEY (project, sort, id),
  FOREIGN KEY (project) REFERENCES projects (id) ON DELETE CASCADE
);

ALTER TABLE projects ADD COLUMN in_parts BOOLEAN NOT NULL DEFAULT FALSE;
