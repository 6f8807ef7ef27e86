-- The colour of a lid counts as that of an everyday blend from here on. What was stored before counts as it did: as a
-- print of the pad. So does what an undo brings back.

UPDATE ink SET body = json_set(body, '$.swatch.made_with', json('{"tool": "pad", "load": "normal", "passes": 1}'))
WHERE json_extract(body, '$.swatch.known') = 'lid' AND json_extract(body, '$.swatch.made_with') IS NULL;

UPDATE journal SET before = json_set(before, '$.body.swatch.made_with', json('{"tool": "pad", "load": "normal", "passes": 1}'))
WHERE kind = 'ink' AND json_extract(before, '$.body.swatch.known') = 'lid'
  AND json_extract(before, '$.body.swatch.made_with') IS NULL;

UPDATE journal SET after = json_set(after, '$.body.swatch.made_with', json('{"tool": "pad", "load": "normal", "passes": 1}'))
WHERE kind = 'ink' AND json_extract(after, '$.body.swatch.known') = 'lid'
  AND json_extract(after, '$.body.swatch.made_with') IS NULL;
