-- Stills beside shots, and transparency.
ALTER TABLE media
  ADD COLUMN kind ENUM('video', 'still') NOT NULL DEFAULT 'video' AFTER name,
  ADD COLUMN alpha BOOLEAN NOT NULL DEFAULT FALSE AFTER kind;
