-- Files whose patterns are on the shelf of patterns, and which are no takes. Known by their bytes: the same file comes in once.
CREATE TABLE pattern_files (
  sha256     TEXT PRIMARY KEY,
  path       TEXT NOT NULL,
  bytes      BLOB NOT NULL,
  added_at   TEXT NOT NULL,
  removed_at TEXT
) STRICT;
