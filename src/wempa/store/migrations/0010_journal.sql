-- The journal may be trimmed; numbers are remembered apart from it, so that none is ever used again.
-- Each step says which tab made it on which device, and when it was made, undone or done again last.

CREATE TABLE last_number (
    kind TEXT PRIMARY KEY,
    id   INTEGER NOT NULL
) STRICT;
INSERT INTO last_number SELECT kind, max(item) FROM journal GROUP BY kind;

ALTER TABLE journal ADD COLUMN tab TEXT NOT NULL DEFAULT '';
ALTER TABLE journal ADD COLUMN device TEXT NOT NULL DEFAULT '';
-- The clock at that moment.
ALTER TABLE journal ADD COLUMN touched INTEGER NOT NULL DEFAULT 0;
CREATE INDEX journal_by_step ON journal (step);
CREATE INDEX journal_by_time ON journal (at);
