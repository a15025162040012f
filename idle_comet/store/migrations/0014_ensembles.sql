-- The editor's own recipes of several clips.
CREATE TABLE ensembles (
  id VARCHAR(64) NOT NULL PRIMARY KEY,
  document LONGTEXT NOT NULL CHECK (JSON_VALID(document)),
  saved_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
);
