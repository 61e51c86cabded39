-- Gear names its driver, so that two kinds of gear can take the same role.
ALTER TABLE gear ADD COLUMN driver text;
UPDATE gear SET driver = CASE role
  WHEN 'current-source' THEN 'scpi-injection'
  WHEN 'micro-ohmmeter' THEN 'scpi-micro-ohmmeter'
  WHEN 'radio-test-set' THEN 'scpi-radio-test-set'
  WHEN 'second-generator' THEN 'scpi-generator'
  WHEN 'radio-data-port' THEN 'line-data-port'
END WHERE host IS NOT NULL;
ALTER TABLE gear ADD CONSTRAINT gear_driver CHECK (driver IS NULL OR host IS NOT NULL);
