-- The SHA-256 of a take, in hex, so that damage to its bytes is noticed. The function is given by the code that runs this.
ALTER TABLE takes ADD COLUMN sha256 TEXT NOT NULL DEFAULT '';
UPDATE takes SET sha256 = sha256(bytes);
