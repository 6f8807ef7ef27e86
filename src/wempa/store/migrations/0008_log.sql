-- Swatches that were laid and what came of them, and what was learned from them.

CREATE TABLE swatch (
    id       INTEGER PRIMARY KEY,
    revision INTEGER NOT NULL,
    uuid     TEXT NOT NULL UNIQUE,
    changed  TEXT NOT NULL,
    name     TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    -- Card, stack and what was seen; the inks may be gone, so they are named here too.
    details  TEXT NOT NULL CHECK (json_valid(details))
) STRICT;

CREATE TABLE lesson (
    id       INTEGER PRIMARY KEY,
    revision INTEGER NOT NULL,
    uuid     TEXT NOT NULL UNIQUE,
    changed  TEXT NOT NULL,
    name     TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    details  TEXT NOT NULL CHECK (json_valid(details))
) STRICT;

-- Practice rounds: which pairs were asked, and how they were guessed.
CREATE TABLE practice (
    id       INTEGER PRIMARY KEY,
    revision INTEGER NOT NULL,
    uuid     TEXT NOT NULL UNIQUE,
    changed  TEXT NOT NULL,
    name     TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    details  TEXT NOT NULL CHECK (json_valid(details))
) STRICT;
