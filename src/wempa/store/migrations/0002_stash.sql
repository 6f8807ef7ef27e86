-- What people keep about their inks, cards and tools, ranges with overrides of their own, photos.

-- Standing, place in the set, pad, refill, dates, notes, further swatches.
ALTER TABLE ink ADD COLUMN details TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(details));

-- Weight, sheet size, how many are left, notes.
ALTER TABLE card ADD COLUMN details TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(details));

CREATE TABLE tool (
    id        INTEGER PRIMARY KEY,
    revision  INTEGER NOT NULL,
    name      TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    tool      TEXT NOT NULL,
    -- Size, colour family, set, foam changed on, worn, notes.
    details   TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(details))
) STRICT;

CREATE TABLE ink_range (
    id        INTEGER PRIMARY KEY,
    revision  INTEGER NOT NULL,
    name      TEXT NOT NULL UNIQUE CHECK (length(name) BETWEEN 1 AND 200),
    -- Overrides of the craft table for every ink of the range: maker, columns of its formula.
    details   TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(details))
) STRICT;

-- Small JPEGs by what is in them. The journal names a photo by its hash and never holds it.
CREATE TABLE photo (
    hash      TEXT PRIMARY KEY,
    at        TEXT NOT NULL,
    width     INTEGER NOT NULL,
    height    INTEGER NOT NULL,
    jpeg      BLOB NOT NULL
) STRICT;
