-- A project holds one take, and a take one pattern so far: the whole take.
CREATE TABLE projects (
  id         TEXT PRIMARY KEY,
  name       TEXT NOT NULL,
  book       TEXT NOT NULL DEFAULT '',
  created_at TEXT NOT NULL,
  changed_at TEXT NOT NULL,
  removed_at TEXT
) STRICT;

-- The bytes as they were imported, for ever.
CREATE TABLE takes (
  project_id TEXT PRIMARY KEY REFERENCES projects (id) ON DELETE CASCADE,
  file_name  TEXT NOT NULL,
  bytes      BLOB NOT NULL,
  notices    TEXT NOT NULL
) STRICT;

-- recorded_hits is written once, at import. What happened to a hit since then is in changed_hits.
CREATE TABLE patterns (
  project_id    TEXT PRIMARY KEY REFERENCES projects (id) ON DELETE CASCADE,
  revision      INTEGER NOT NULL DEFAULT 0,
  head          TEXT NOT NULL,
  recorded_hits TEXT NOT NULL,
  streams       TEXT NOT NULL,
  lanes         TEXT NOT NULL,
  -- Every pattern has a note map of its own, so that naming a note in it changes nothing elsewhere.
  note_map      TEXT NOT NULL,
  -- The map of the kit that will play it; JSON null for none.
  outgoing_map  TEXT NOT NULL,
  -- What a hand made of messages that are no hits.
  changed_messages TEXT NOT NULL,
  summary       TEXT NOT NULL,
  thumbnail     TEXT NOT NULL
) STRICT;

-- One row for each hit that an edit has touched: the hit as it is now, or null if it was removed.
CREATE TABLE changed_hits (
  project_id TEXT NOT NULL REFERENCES patterns (project_id) ON DELETE CASCADE,
  hit_id     TEXT NOT NULL,
  hit        TEXT,
  PRIMARY KEY (project_id, hit_id)
) STRICT, WITHOUT ROWID;

-- Every edit that was ever saved, in order, so that undo survives a reload.
CREATE TABLE edits (
  project_id TEXT NOT NULL REFERENCES patterns (project_id) ON DELETE CASCADE,
  revision   INTEGER NOT NULL,
  entry_id   TEXT NOT NULL,
  kind       TEXT NOT NULL CHECK (kind IN ('do', 'undo', 'redo')),
  label      TEXT NOT NULL,
  edit       TEXT NOT NULL,
  made_at    TEXT NOT NULL,
  PRIMARY KEY (project_id, revision),
  UNIQUE (project_id, entry_id)
) STRICT;

-- What was done once for the whole application, such as putting the demo on the shelf.
CREATE TABLE facts (
  name  TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

-- Note maps on the shelf. The one of General MIDI comes with the application and is not here.
CREATE TABLE note_maps (
  id         TEXT PRIMARY KEY,
  map        TEXT NOT NULL,
  changed_at TEXT NOT NULL,
  removed_at TEXT
) STRICT;
