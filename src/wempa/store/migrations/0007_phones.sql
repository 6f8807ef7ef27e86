-- Phones that known swatches taught Wempa: what each saw of them, by lamp, and how it bends light and dark.

CREATE TABLE phone (
    id       INTEGER PRIMARY KEY,
    revision INTEGER NOT NULL,
    uuid     TEXT NOT NULL UNIQUE,
    changed  TEXT NOT NULL,
    name     TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    details  TEXT NOT NULL CHECK (json_valid(details))
) STRICT;
