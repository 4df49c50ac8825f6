-- Devices say how long they wait for a write, gateways which units they pass on, and points what releases them.
UPDATE "devices" SET "body" = '{"writeTimeoutMs": null}'::jsonb || "body";
--> statement-breakpoint
UPDATE "ports" SET "body" = '{"passes": []}'::jsonb || "body" WHERE "body"->>'kind' = 'serial';
--> statement-breakpoint
UPDATE "points" SET "body" = '{"releasedBy": null, "watchdogMs": null}'::jsonb || "body";
--> statement-breakpoint
UPDATE "routes" SET "body" = jsonb_set("body", '{transforms}', (
  SELECT coalesce(jsonb_agg(CASE WHEN step->>'kind' = 'select' THEN '{"otherwiseId": null}'::jsonb || step ELSE step END ORDER BY place), '[]'::jsonb)
  FROM jsonb_array_elements("body"->'transforms') WITH ORDINALITY AS steps (step, place)
));
