-- A conflicted version: edits on top of its revision that are not in the log, since what others did went first. Null for a plain one.
ALTER TABLE versions ADD COLUMN entries TEXT;
