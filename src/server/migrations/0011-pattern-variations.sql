-- How a pattern is to differ from how it was played: fuller or sparser, harder or softer. Null for not at all.
ALTER TABLE pattern_marks ADD COLUMN variation TEXT;
