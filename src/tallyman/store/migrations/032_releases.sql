-- How much a release says it changes ('' where it was kept before that was asked), from where it came, and what it counts.
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS says VARCHAR(8) NOT NULL DEFAULT '';
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS origin VARCHAR(8) NOT NULL DEFAULT 'page';
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS counts_json JSON NULL;
ALTER TABLE package_release DROP CONSTRAINT IF EXISTS ck_release_says;
ALTER TABLE package_release ADD CONSTRAINT ck_release_says CHECK (says IN ('', 'fix', 'addition', 'breaking'));
ALTER TABLE package_release DROP CONSTRAINT IF EXISTS ck_release_origin;
ALTER TABLE package_release ADD CONSTRAINT ck_release_origin CHECK (origin IN ('page', 'command', 'pipeline'));
