-- What an item is called anywhere (a UUID, RFC 9562 version 4), and when it last changed: a file that goes to
-- another workspace and comes back finds its own again.

ALTER TABLE ink ADD COLUMN uuid TEXT NOT NULL DEFAULT '';
ALTER TABLE ink ADD COLUMN changed TEXT NOT NULL DEFAULT '';
ALTER TABLE card ADD COLUMN uuid TEXT NOT NULL DEFAULT '';
ALTER TABLE card ADD COLUMN changed TEXT NOT NULL DEFAULT '';
ALTER TABLE tool ADD COLUMN uuid TEXT NOT NULL DEFAULT '';
ALTER TABLE tool ADD COLUMN changed TEXT NOT NULL DEFAULT '';
ALTER TABLE ink_range ADD COLUMN uuid TEXT NOT NULL DEFAULT '';
ALTER TABLE ink_range ADD COLUMN changed TEXT NOT NULL DEFAULT '';
ALTER TABLE overlap ADD COLUMN uuid TEXT NOT NULL DEFAULT '';
ALTER TABLE overlap ADD COLUMN changed TEXT NOT NULL DEFAULT '';
ALTER TABLE panel ADD COLUMN uuid TEXT NOT NULL DEFAULT '';
ALTER TABLE panel ADD COLUMN changed TEXT NOT NULL DEFAULT '';

UPDATE ink SET uuid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2)
    || '-' || substr('89ab', 1 + (random() & 3), 1) || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6))),
    changed = coalesce((SELECT max(at) FROM journal WHERE kind = 'ink' AND item = ink.id), '');
UPDATE card SET uuid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2)
    || '-' || substr('89ab', 1 + (random() & 3), 1) || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6))),
    changed = coalesce((SELECT max(at) FROM journal WHERE kind = 'card' AND item = card.id), '');
UPDATE tool SET uuid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2)
    || '-' || substr('89ab', 1 + (random() & 3), 1) || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6))),
    changed = coalesce((SELECT max(at) FROM journal WHERE kind = 'tool' AND item = tool.id), '');
UPDATE ink_range SET uuid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4'
    || substr(hex(randomblob(2)), 2) || '-' || substr('89ab', 1 + (random() & 3), 1) || substr(hex(randomblob(2)), 2)
    || '-' || hex(randomblob(6))),
    changed = coalesce((SELECT max(at) FROM journal WHERE kind = 'range' AND item = ink_range.id), '');
UPDATE overlap SET uuid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2)
    || '-' || substr('89ab', 1 + (random() & 3), 1) || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6))),
    changed = coalesce((SELECT max(at) FROM journal WHERE kind = 'overlap' AND item = overlap.id), '');
UPDATE panel SET uuid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2)
    || '-' || substr('89ab', 1 + (random() & 3), 1) || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6))),
    changed = coalesce((SELECT max(at) FROM journal WHERE kind = 'panel' AND item = panel.id), '');

CREATE UNIQUE INDEX ink_by_uuid ON ink (uuid);
CREATE UNIQUE INDEX card_by_uuid ON card (uuid);
CREATE UNIQUE INDEX tool_by_uuid ON tool (uuid);
CREATE UNIQUE INDEX ink_range_by_uuid ON ink_range (uuid);
CREATE UNIQUE INDEX overlap_by_uuid ON overlap (uuid);
CREATE UNIQUE INDEX panel_by_uuid ON panel (uuid);
