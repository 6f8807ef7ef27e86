-- Two words of the job have new names: the formula `fusion` is `reactive_pigment`, the tool `smoosh` is `dip`.
--
-- Everything stored was written by one writer, which puts `: ` between a key and its value; a quote
-- inside a text stands behind a backslash, so that none of these pairs can be part of a name or a note.

UPDATE ink SET formula = 'reactive_pigment' WHERE formula = 'fusion';
UPDATE ink SET
    body = replace(replace(body, '"formula": "fusion"', '"formula": "reactive_pigment"'), '"tool": "smoosh"', '"tool": "dip"'),
    details = replace(details, '"tool": "smoosh"', '"tool": "dip"');
UPDATE tool SET tool = 'dip' WHERE tool = 'smoosh';
UPDATE overlap_entry SET body = replace(body, '"tool": "smoosh"', '"tool": "dip"');
UPDATE panel SET plan = replace(plan, '"tool": "smoosh"', '"tool": "dip"');

-- Overrides name rows of the craft table.
UPDATE overlap SET settings = replace(replace(replace(replace(settings,
    '"formula.fusion.', '"formula.reactive_pigment.'), '"tool.smoosh.', '"tool.dip.'),
    '"work.smoosh.', '"work.dip.'), '"seam.fade.smoosh"', '"seam.fade.dip"');
UPDATE panel SET settings = replace(replace(replace(replace(settings,
    '"formula.fusion.', '"formula.reactive_pigment.'), '"tool.smoosh.', '"tool.dip.'),
    '"work.smoosh.', '"work.dip.'), '"seam.fade.smoosh"', '"seam.fade.dip"');

-- What is undone or done again is stored as it stands in the journal.
UPDATE journal SET
    before = replace(replace(replace(replace(replace(replace(before,
        '"formula": "fusion"', '"formula": "reactive_pigment"'), '"tool": "smoosh"', '"tool": "dip"'),
        '"formula.fusion.', '"formula.reactive_pigment.'), '"tool.smoosh.', '"tool.dip.'),
        '"work.smoosh.', '"work.dip.'), '"seam.fade.smoosh"', '"seam.fade.dip"'),
    after = replace(replace(replace(replace(replace(replace(after,
        '"formula": "fusion"', '"formula": "reactive_pigment"'), '"tool": "smoosh"', '"tool": "dip"'),
        '"formula.fusion.', '"formula.reactive_pigment.'), '"tool.smoosh.', '"tool.dip.'),
        '"work.smoosh.', '"work.dip.'), '"seam.fade.smoosh"', '"seam.fade.dip"');
