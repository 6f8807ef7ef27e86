-- The overlap editor: premixes, how far the work has got, a name for the new colour.

-- Entries from the bottom that are on the card already.
ALTER TABLE overlap ADD COLUMN laid INTEGER NOT NULL DEFAULT 0 CHECK (laid >= 0);
-- What its maker calls the colour; empty for none.
ALTER TABLE overlap ADD COLUMN colour_name TEXT NOT NULL DEFAULT '' CHECK (length(colour_name) <= 200);

-- The inks of a premix; the entry's own ink_id is NULL then.
CREATE TABLE overlap_mix (
    overlap_id INTEGER NOT NULL,
    position   INTEGER NOT NULL,
    part       INTEGER NOT NULL,
    ink_id     INTEGER NOT NULL REFERENCES ink (id),
    share      REAL NOT NULL CHECK (share >= 0),
    PRIMARY KEY (overlap_id, position, part),
    FOREIGN KEY (overlap_id, position) REFERENCES overlap_entry (overlap_id, position) ON DELETE CASCADE
) STRICT;
CREATE INDEX overlap_mix_by_ink ON overlap_mix (ink_id);
