-- Recipes on the shelf: settings of a lane under a name. Those that come with the application are not here.
CREATE TABLE recipes (
  id         TEXT PRIMARY KEY,
  name       TEXT NOT NULL,
  timing     TEXT NOT NULL,
  kept_at    TEXT NOT NULL,
  removed_at TEXT
) STRICT;
