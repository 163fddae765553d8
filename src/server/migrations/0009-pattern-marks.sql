-- What people say of patterns: names of their own, tags, favourites. By what the pattern plays, in whichever take that may be.
CREATE TABLE pattern_marks (
  played       TEXT PRIMARY KEY,
  name         TEXT NOT NULL,
  tags         TEXT NOT NULL,
  is_favourite INTEGER NOT NULL,
  changed_at   TEXT NOT NULL
) STRICT;
