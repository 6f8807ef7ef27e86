-- Evenings at the table as they are planned, and runs of them: what was done when.
-- Apart from each other, so that ticking off a step writes only a little.

CREATE TABLE evening (
    id       INTEGER PRIMARY KEY,
    revision INTEGER NOT NULL,
    uuid     TEXT NOT NULL UNIQUE,
    changed  TEXT NOT NULL,
    name     TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    details  TEXT NOT NULL CHECK (json_valid(details))
) STRICT;

CREATE TABLE run (
    id       INTEGER PRIMARY KEY,
    revision INTEGER NOT NULL,
    uuid     TEXT NOT NULL UNIQUE,
    changed  TEXT NOT NULL,
    name     TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    details  TEXT NOT NULL CHECK (json_valid(details))
) STRICT;
