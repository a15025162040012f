-- A film and its parts. Numbers that are looked up stand in columns; what is only read back whole is JSON.
CREATE TABLE projects (
  id VARCHAR(64) NOT NULL PRIMARY KEY,
  revision BIGINT NOT NULL,
  name VARCHAR(200) NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  rate_num INT NOT NULL,
  rate_den INT NOT NULL,
  background CHAR(7) NOT NULL,
  made_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  changed_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
);

CREATE TABLE tracks (
  project VARCHAR(64) NOT NULL,
  id VARCHAR(64) NOT NULL,
  place INT NOT NULL,
  name VARCHAR(200) NOT NULL,
  PRIMARY KEY (project, id),
  FOREIGN KEY (project) REFERENCES projects (id) ON DELETE CASCADE
);

CREATE TABLE media (
  project VARCHAR(64) NOT NULL,
  id VARCHAR(64) NOT NULL,
  name VARCHAR(200) NOT NULL,
  hash CHAR(64) NOT NULL,
  path VARCHAR(1000) NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  rate_num INT NOT NULL,
  rate_den INT NOT NULL,
  frames INT NOT NULL,
  PRIMARY KEY (project, id),
  FOREIGN KEY (project) REFERENCES projects (id) ON DELETE CASCADE
);

CREATE TABLE clips (
  project VARCHAR(64) NOT NULL,
  id VARCHAR(64) NOT NULL,
  track VARCHAR(64) NOT NULL,
  name VARCHAR(200) NOT NULL,
  head INT NOT NULL,
  length INT NOT NULL,
  arrival INT NOT NULL,
  departure INT NOT NULL,
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  PRIMARY KEY (project, id),
  KEY by_track (project, track, head),
  FOREIGN KEY (project) REFERENCES projects (id) ON DELETE CASCADE
);

CREATE TABLE steps (
  project VARCHAR(64) NOT NULL,
  clip VARCHAR(64) NOT NULL,
  id VARCHAR(64) NOT NULL,
  place INT NOT NULL,
  kind VARCHAR(60) NOT NULL,
  is_on BOOLEAN NOT NULL,
  mix LONGTEXT NOT NULL CHECK (JSON_VALID(mix)),
  properties LONGTEXT NOT NULL CHECK (JSON_VALID(properties)),
  PRIMARY KEY (project, clip, id),
  FOREIGN KEY (project, clip) REFERENCES clips (project, id) ON DELETE CASCADE
);
