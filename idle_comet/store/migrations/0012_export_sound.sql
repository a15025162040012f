-- How a film's sound is written: as AAC in MP4, or as PCM in QuickTime.
ALTER TABLE exports ADD COLUMN sound VARCHAR(8) NOT NULL DEFAULT 'aac';
