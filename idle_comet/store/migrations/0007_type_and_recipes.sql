-- Steps passed on by units, their choices; recipes; the series' palette and type styles.
ALTER TABLE steps
  ADD COLUMN choices LONGTEXT NOT NULL DEFAULT '{}' CHECK (JSON_VALID(choices)),
  ADD COLUMN units LONGTEXT NOT NULL DEFAULT 'null' CHECK (JSON_VALID(units)),
  ADD COLUMN drawing LONGTEXT NOT NULL DEFAULT '',
  ADD COLUMN media VARCHAR(64) NULL;

ALTER TABLE clips
  ADD COLUMN recipe VARCHAR(64) NULL,
  ADD COLUMN palette LONGTEXT NOT NULL DEFAULT '{}' CHECK (JSON_VALID(palette));

ALTER TABLE projects
  ADD COLUMN palette LONGTEXT NOT NULL DEFAULT '[]' CHECK (JSON_VALID(palette)),
  ADD COLUMN type_styles LONGTEXT NOT NULL DEFAULT '[]' CHECK (JSON_VALID(type_styles));

-- The editor's own recipes, and which of all they like best.
CREATE TABLE recipes (
  id VARCHAR(64) NOT NULL PRIMARY KEY,
  document LONGTEXT NOT NULL CHECK (JSON_VALID(document)),
  saved_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
);

CREATE TABLE favourite_recipes (
  id VARCHAR(64) NOT NULL PRIMARY KEY
);
