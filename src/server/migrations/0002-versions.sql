-- A version is a revision with a name: the log leads back to it.
CREATE TABLE versions (
  id         TEXT PRIMARY KEY,
  project_id TEXT NOT NULL REFERENCES patterns (project_id) ON DELETE CASCADE,
  name       TEXT NOT NULL,
  revision   INTEGER NOT NULL,
  made_at    TEXT NOT NULL
) STRICT;

CREATE INDEX versions_of_project ON versions (project_id, revision);
