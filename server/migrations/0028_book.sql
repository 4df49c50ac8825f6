-- A project says how its book looks and what it contains.
CREATE FUNCTION pg_temp.with_book(body jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $body$
	SELECT CASE WHEN body IS NULL OR jsonb_typeof(body) = 'null' THEN body
		ELSE '{"book": {"company": "", "logo": "", "titleBlock": [], "chapters": ["lines", "settings", "maps", "routes", "mapping", "requests", "rounds", "losses", "findings", "proofs", "found", "protocol", "revisions"]}}'::jsonb || body END
$body$;
--> statement-breakpoint
UPDATE "projects" SET "body" = pg_temp.with_book("body");
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		CASE WHEN change->>'entity' = 'project' THEN change || jsonb_build_object(
			'before', pg_temp.with_book(change->'before'),
			'after', pg_temp.with_book(change->'after')) ELSE change END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "project"}]';
