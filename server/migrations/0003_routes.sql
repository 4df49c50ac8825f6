-- Devices say what one request of theirs takes; routes have steps, a carrier, a trigger, conditions and a loss rule.
UPDATE "devices" SET "body" = jsonb_build_object(
  'readAcrossHoles', true,
  'functionCodes', '[1, 2, 3, 4, 5, 6, 15, 16]'::jsonb,
  'maxReadWords', 125,
  'maxReadBits', 2000,
  'maxWriteWords', 123,
  'maxWriteBits', 1968
) || "body";
--> statement-breakpoint
UPDATE "routes" SET "body" = jsonb_build_object(
  'transforms', '[]'::jsonb,
  'carrierId', null,
  'trigger', '{"on": "round"}'::jsonb,
  'whileId', null,
  'onlyDifferent', false,
  'release', null,
  'loss', '{"rule": "hold", "value": null, "validId": null, "afterMs": 5000}'::jsonb
) || "body";
