-- Chores on the shelf: rules with what they should do, under a name. Those that come with the application are not here.
CREATE TABLE chores (
  id         TEXT PRIMARY KEY,
  name       TEXT NOT NULL,
  steps      TEXT NOT NULL,
  kept_at    TEXT NOT NULL,
  removed_at TEXT
) STRICT;
