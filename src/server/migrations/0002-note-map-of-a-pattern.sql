-- Every pattern has a note map of its own. Null is the General MIDI map, which all patterns had before.
ALTER TABLE patterns ADD COLUMN note_map TEXT;
