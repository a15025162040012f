-- Every acknowledged edit, in order. Undo and redo are rows too: nothing is ever taken out.
CREATE TABLE edits (
  project VARCHAR(64) NOT NULL,
  revision BIGINT NOT NULL,
  role ENUM('do', 'undo', 'redo') NOT NULL,
  token VARCHAR(64) NOT NULL,
  gesture VARCHAR(64) NULL,
  label VARCHAR(200) NOT NULL,
  edit LONGTEXT NOT NULL CHECK (JSON_VALID(edit)),
  inverse LONGTEXT NOT NULL CHECK (JSON_VALID(inverse)),
  made_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (project, revision),
  UNIQUE KEY once (project, token),
  FOREIGN KEY (project) REFERENCES projects (id) ON DELETE CASCADE
);
