-- A point says where it lies, a converter has an image, and telegrams are rows of their own.
CREATE TABLE "telegrams" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"body" jsonb NOT NULL,
	"device_id" uuid GENERATED ALWAYS AS ((body->>'deviceId')::uuid) STORED REFERENCES "devices"("id") DEFERRABLE INITIALLY DEFERRED
);
--> statement-breakpoint
CREATE INDEX "telegrams_project" ON "telegrams" USING btree ("project_id");
--> statement-breakpoint
CREATE INDEX "telegrams_device" ON "telegrams" USING btree ("device_id");
--> statement-breakpoint
CREATE FUNCTION pg_temp.with_place(entity text, body jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $body$
	SELECT CASE WHEN jsonb_typeof(body) <> 'object' OR body IS NULL THEN body
		WHEN entity = 'point' THEN jsonb_build_object('place', jsonb_build_object('kind', 'register')) || body
		WHEN entity = 'device' THEN jsonb_build_object('image', null) || body
		ELSE body END
$body$;
--> statement-breakpoint
UPDATE "points" SET "body" = pg_temp.with_place('point', "body");
--> statement-breakpoint
UPDATE "devices" SET "body" = pg_temp.with_place('device', "body");
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		change || jsonb_build_object(
			'before', pg_temp.with_place(change->>'entity', change->'before'),
			'after', pg_temp.with_place(change->>'entity', change->'after'))
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "device"}]' OR "changes" @> '[{"entity": "point"}]';
--> statement-breakpoint
UPDATE "library_versions" SET "body" = jsonb_build_object('telegrams', '[]'::jsonb) || "body"
	|| jsonb_build_object('device', pg_temp.with_place('device', "body"->'device'))
	|| jsonb_build_object('points', (
		SELECT coalesce(jsonb_agg(pg_temp.with_place('point', point) ORDER BY place), '[]'::jsonb)
		FROM jsonb_array_elements("body"->'points') WITH ORDINALITY AS listed(point, place)));
