-- Panels: a card front in bands, with everything that is planned for it.

CREATE TABLE panel (
    id        INTEGER PRIMARY KEY,
    revision  INTEGER NOT NULL,
    name      TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    card_id   INTEGER REFERENCES card (id),
    -- The card of a mat around it.
    mat_id    INTEGER REFERENCES card (id),
    -- Illuminant, mud line and overrides, as an overlap has them.
    settings  TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(settings)),
    -- Size, layout, bands, seams, layers on top (docs/stash-formats.md).
    plan      TEXT NOT NULL CHECK (json_valid(plan))
) STRICT;
CREATE INDEX panel_by_card ON panel (card_id);

-- The inks that a plan names, so that none of them is deleted from under it.
CREATE TABLE panel_ink (
    panel_id INTEGER NOT NULL REFERENCES panel (id) ON DELETE CASCADE,
    ink_id   INTEGER NOT NULL REFERENCES ink (id),
    PRIMARY KEY (panel_id, ink_id)
) STRICT;
CREATE INDEX panel_ink_by_ink ON panel_ink (ink_id);
