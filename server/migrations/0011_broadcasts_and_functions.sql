-- Routes and writes of errands reach their own device alone, as before; a serial line has the usual turnaround after a broadcast; and a
-- stand-in goes on telling what it is, now that it has only the functions that it is said to have. In rows, and in the history.
CREATE FUNCTION pg_temp.newer(entity text, body jsonb) RETURNS jsonb LANGUAGE sql AS $$
	SELECT CASE
		WHEN jsonb_typeof(body) IS DISTINCT FROM 'object' THEN body
		WHEN entity = 'route' THEN jsonb_build_object('broadcast', false) || body
		WHEN entity = 'line' AND body->>'kind' = 'serial' THEN jsonb_build_object('turnaroundMs', 100) || body
		WHEN entity = 'errand' THEN body || jsonb_build_object('steps', coalesce((
			SELECT jsonb_agg(CASE WHEN step->>'kind' = 'write' THEN jsonb_build_object('broadcast', false) || step ELSE step END ORDER BY place)
			FROM jsonb_array_elements(body->'steps') WITH ORDINALITY AS listed(step, place)), '[]'))
		WHEN entity = 'device' AND body->>'standIn' IS NOT NULL AND NOT body->'functionCodes' @> '43'
			THEN body || jsonb_build_object('functionCodes', (body->'functionCodes') || '43')
		ELSE body END
$$;
--> statement-breakpoint
UPDATE "routes" SET "body" = pg_temp.newer('route', "body");
--> statement-breakpoint
UPDATE "lines" SET "body" = pg_temp.newer('line', "body");
--> statement-breakpoint
UPDATE "errands" SET "body" = pg_temp.newer('errand', "body");
--> statement-breakpoint
UPDATE "devices" SET "body" = pg_temp.newer('device', "body");
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		change || jsonb_build_object(
			'before', pg_temp.newer(change->>'entity', change->'before'),
			'after', pg_temp.newer(change->>'entity', change->'after'))
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE jsonb_path_exists("changes", '$[*] ? (@.entity == "route" || @.entity == "line" || @.entity == "errand" || @.entity == "device")');
