-- One gesture is one row of the journal: `since` is the revision before its first edit, `window` who made it.
ALTER TABLE edits
  ADD COLUMN since BIGINT NULL AFTER revision,
  ADD COLUMN window VARCHAR(64) NULL AFTER gesture;

-- Every acknowledged edit by its token, also those whose row of the journal went on into a later edit.
CREATE TABLE edit_tokens (
  project VARCHAR(64) NOT NULL,
  token VARCHAR(64) NOT NULL,
  revision BIGINT NOT NULL,
  made_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (project, token),
  KEY by_age (made_at),
  FOREIGN KEY (project) REFERENCES projects (id) ON DELETE CASCADE
);

INSERT INTO edit_tokens (project, token, revision, made_at) SELECT project, token, revision, made_at FROM edits;
