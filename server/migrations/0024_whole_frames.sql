-- A frame says whether its converter passes it whole.
CREATE FUNCTION pg_temp.with_whole(body jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $body$
	SELECT CASE WHEN body IS NULL OR jsonb_typeof(body) = 'null' THEN body ELSE jsonb_build_object('whole', null) || body END
$body$;
--> statement-breakpoint
UPDATE "frames" SET "body" = pg_temp.with_whole("body");
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		CASE WHEN change->>'entity' = 'frame' THEN change || jsonb_build_object(
			'before', pg_temp.with_whole(change->'before'),
			'after', pg_temp.with_whole(change->'after')) ELSE change END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "frame"}]';
--> statement-breakpoint
UPDATE "library_versions" SET "body" = jsonb_set("body", '{frames}', (
	SELECT coalesce(jsonb_agg(pg_temp.with_whole(frame) ORDER BY place), '[]'::jsonb)
	FROM jsonb_array_elements("body"->'frames') WITH ORDINALITY AS listed(frame, place)
)) WHERE jsonb_typeof("body"->'frames') = 'array';
