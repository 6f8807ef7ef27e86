-- The stash, the overlaps on the table, and the journal of every change.

-- Counts every change of any item. An item's revision is the count at its last change,
-- so that no revision ever comes back, not even by undo.
CREATE TABLE clock (
    revision INTEGER NOT NULL
) STRICT;
INSERT INTO clock VALUES (0);

CREATE TABLE ink (
    id        INTEGER PRIMARY KEY,
    revision  INTEGER NOT NULL,
    name      TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    range     TEXT NOT NULL DEFAULT '',
    formula   TEXT NOT NULL,
    -- The ink as a job gives it (docs/job-format.md).
    body      TEXT NOT NULL CHECK (json_valid(body))
) STRICT;
CREATE INDEX ink_by_range ON ink (range, name);

CREATE TABLE card (
    id        INTEGER PRIMARY KEY,
    revision  INTEGER NOT NULL,
    name      TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    surface   TEXT NOT NULL,
    -- The cardstock as a job gives it.
    body      TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

CREATE TABLE overlap (
    id        INTEGER PRIMARY KEY,
    revision  INTEGER NOT NULL,
    name      TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    card_id   INTEGER REFERENCES card (id),
    -- Illuminant, mud line and the like: what a job has beside inks and stack.
    settings  TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(settings))
) STRICT;

CREATE TABLE overlap_entry (
    overlap_id INTEGER NOT NULL REFERENCES overlap (id) ON DELETE CASCADE,
    position   INTEGER NOT NULL,
    ink_id     INTEGER REFERENCES ink (id),
    -- Tool, load, passes, wet or dry, or a treatment.
    body       TEXT NOT NULL CHECK (json_valid(body)),
    PRIMARY KEY (overlap_id, position)
) STRICT;
CREATE INDEX overlap_entry_by_ink ON overlap_entry (ink_id);

CREATE TABLE journal (
    seq     INTEGER PRIMARY KEY AUTOINCREMENT,
    -- Changes made together share a step and are undone together.
    step    INTEGER NOT NULL,
    at      TEXT NOT NULL,
    what    TEXT NOT NULL,
    kind    TEXT NOT NULL,
    item    INTEGER NOT NULL,
    -- The whole item as it was and as it became; NULL before it was made or once it was deleted.
    before  TEXT CHECK (before IS NULL OR json_valid(before)),
    after   TEXT CHECK (after IS NULL OR json_valid(after)),
    -- done (can be undone), undone (can be redone), or settled (neither: made with the
    -- file, or undone before something else was done)
    state   TEXT NOT NULL DEFAULT 'done' CHECK (state IN ('done', 'undone', 'settled'))
) STRICT;
CREATE INDEX journal_by_state ON journal (state, step);
CREATE INDEX journal_by_item ON journal (kind, item, seq);
