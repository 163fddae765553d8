-- Grooves on the shelf: how hits sit against the grid, and how loud they are, place by place. Those that come along are not here.
CREATE TABLE grooves (
  id         TEXT PRIMARY KEY,
  name       TEXT NOT NULL,
  feel       TEXT NOT NULL,
  kept_at    TEXT NOT NULL,
  removed_at TEXT
) STRICT;
