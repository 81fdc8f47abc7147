-- Secrets that packages ask for, and what single sign-on needs in passing.
-- Only additions: processes of the release before leave the new columns alone.
ALTER TABLE package_release
  ADD COLUMN IF NOT EXISTS secrets_json JSON NULL;
ALTER TABLE session
  ADD COLUMN IF NOT EXISTS outside_token TEXT NULL;
CREATE TABLE IF NOT EXISTS outside_sign_in (
  state_hash CHAR(64) PRIMARY KEY,
  nonce VARCHAR(80) NOT NULL,
  verifier VARCHAR(140) NOT NULL,
  back VARCHAR(300) NOT NULL DEFAULT '/',
  ends_at DATETIME(6) NOT NULL,
  KEY ix_outside_ends (ends_at)
);
ALTER TABLE sign_in_step
  ADD INDEX IF NOT EXISTS ix_step_ends (ends_at);
