-- How lists are made says too how programs are: in which form, at which pace, and which parts of them.
CREATE FUNCTION pg_temp.with_form(body jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $body$
	SELECT CASE WHEN body IS NULL OR jsonb_typeof(body) = 'null' THEN body
		ELSE '{"portable": false, "scanMs": 10, "parts": ["variables", "types", "values", "exchange", "interface", "program"]}'::jsonb || body END
$body$;
--> statement-breakpoint
UPDATE "list_profiles" SET "body" = pg_temp.with_form("body");
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		CASE WHEN change->>'entity' = 'listProfile' THEN change || jsonb_build_object(
			'before', pg_temp.with_form(change->'before'),
			'after', pg_temp.with_form(change->'after')) ELSE change END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "listProfile"}]';
