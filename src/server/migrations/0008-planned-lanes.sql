-- 0 while the grids of a new take are still being sought: its lanes are on the usual settings until then.
ALTER TABLE patterns ADD COLUMN is_planned INTEGER NOT NULL DEFAULT 1;
