-- Parts of documents that could not be read any more: kept as they were, and said when the film is opened.
CREATE TABLE set_aside (
  id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project VARCHAR(64) NOT NULL,
  owner VARCHAR(300) NOT NULL,
  why VARCHAR(1000) NOT NULL,
  document LONGTEXT NOT NULL,
  made_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (project) REFERENCES projects (id) ON DELETE CASCADE
);
