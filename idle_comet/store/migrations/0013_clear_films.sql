-- Films with transparency: in which format, how their colours are told, on which plain colour if on any.
ALTER TABLE exports
  ADD COLUMN format VARCHAR(16) NOT NULL DEFAULT 'h264',
  ADD COLUMN alpha VARCHAR(16) NOT NULL DEFAULT 'straight',
  ADD COLUMN ground VARCHAR(7) NULL;
