-- Films being made and made. `document` is the project as it was when the export was asked for.
CREATE TABLE exports (
  id VARCHAR(64) NOT NULL PRIMARY KEY,
  project VARCHAR(64) NOT NULL,
  revision BIGINT NOT NULL,
  state ENUM('waiting', 'running', 'done', 'failed', 'cancelled') NOT NULL,
  first_frame INT NOT NULL,
  frames INT NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  quality INT NOT NULL,
  frames_done INT NOT NULL DEFAULT 0,
  file VARCHAR(1000) NULL,
  message VARCHAR(1000) NULL,
  document LONGTEXT NOT NULL CHECK (JSON_VALID(document)),
  made_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ended_at TIMESTAMP(3) NULL,
  KEY by_project (project, made_at)
);
