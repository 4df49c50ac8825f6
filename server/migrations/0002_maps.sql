-- Devices say how their package takes addresses and what they refuse to be read across; points get bits and codes by name.
UPDATE "devices" SET "body" = jsonb_build_object('entry', 'asIs', 'forbidden', '[]'::jsonb) || "body" || jsonb_build_object(
  'areas', coalesce((SELECT jsonb_agg('{"firstBit": null}'::jsonb || area) FROM jsonb_array_elements("body"->'areas') AS area), '[]'::jsonb)
);
--> statement-breakpoint
UPDATE "points" SET "body" = jsonb_build_object('bit', null, 'bits', '[]'::jsonb, 'codes', '[]'::jsonb) || "body";
