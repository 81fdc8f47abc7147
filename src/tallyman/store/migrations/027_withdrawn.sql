-- Why a release was withdrawn (retired_at): it starts nothing anew.
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS withdrawn_why VARCHAR(500) NOT NULL DEFAULT '';
