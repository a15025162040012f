-- Tracks that can be hidden and locked; cuts, transitions, riding and motion blur of clips; markers and saved eases.
ALTER TABLE projects
  ADD COLUMN shutter LONGTEXT NOT NULL DEFAULT '{"angle": 0}' CHECK (JSON_VALID(shutter)),
  ADD COLUMN eases LONGTEXT NOT NULL DEFAULT '[]' CHECK (JSON_VALID(eases)),
  ADD COLUMN marks LONGTEXT NOT NULL DEFAULT '{}' CHECK (JSON_VALID(marks));

ALTER TABLE tracks
  ADD COLUMN hidden BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN locked BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN height INT NULL;

ALTER TABLE clips
  ADD COLUMN skipped INT NOT NULL DEFAULT 0,
  ADD COLUMN cut_off INT NOT NULL DEFAULT 0,
  ADD COLUMN seen ENUM('shown', 'hidden', 'alone') NOT NULL DEFAULT 'shown',
  ADD COLUMN rides VARCHAR(64) NULL,
  ADD COLUMN opening LONGTEXT NOT NULL DEFAULT 'null' CHECK (JSON_VALID(opening)),
  ADD COLUMN closing LONGTEXT NOT NULL DEFAULT 'null' CHECK (JSON_VALID(closing)),
  ADD COLUMN shutter LONGTEXT NOT NULL DEFAULT 'null' CHECK (JSON_VALID(shutter));

ALTER TABLE steps
  ADD COLUMN since INT NOT NULL DEFAULT 0,
  ADD COLUMN until INT NOT NULL DEFAULT 0;
