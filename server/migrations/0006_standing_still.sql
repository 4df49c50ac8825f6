-- A route says how long its value may stand still before it counts as lost.
UPDATE "routes" SET "body" = jsonb_set("body", '{loss}', '{"stillMs": null}'::jsonb || ("body"->'loss'));
