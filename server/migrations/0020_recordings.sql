-- A device may be played from a recording of it.
CREATE FUNCTION pg_temp.device_with_recording(body jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $body$
	SELECT CASE WHEN jsonb_typeof(body) <> 'object' OR body IS NULL THEN body ELSE jsonb_build_object('recording', null) || body END
$body$;
--> statement-breakpoint
UPDATE "devices" SET "body" = pg_temp.device_with_recording("body");
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		CASE change->>'entity'
			WHEN 'device' THEN change || jsonb_build_object('before', pg_temp.device_with_recording(change->'before'), 'after', pg_temp.device_with_recording(change->'after'))
			ELSE change END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "device"}]';
