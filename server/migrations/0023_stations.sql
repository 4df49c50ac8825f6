-- Telecontrol lines say how their ends wait for each other, and their stations what they keep.
CREATE FUNCTION pg_temp.with_stations(entity text, body jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $body$
	SELECT CASE WHEN body IS NULL OR body->>'kind' IS DISTINCT FROM 'telecontrol' THEN body
		WHEN entity = 'line' THEN jsonb_build_object(
			'tcpPort', null, 'listensAt', '', 'ownAddress', 1, 'answersMs', 5000, 'clockEveryMs', 3600000, 'selectedMs', 10000, 'eventsEveryMs', null,
			'allEveryMs', 3600000, 'confirmMs', 5000, 't1Ms', 15000, 't2Ms', 10000, 't3Ms', 20000, 'k', 12, 'w', 8) || body
		WHEN entity = 'port' THEN jsonb_build_object('ip', '', 'memory', 1000, 'staleMs', null) || body
		ELSE body END
$body$;
--> statement-breakpoint
UPDATE "lines" SET "body" = pg_temp.with_stations('line', "body") WHERE "body"->>'kind' = 'telecontrol';
--> statement-breakpoint
UPDATE "ports" SET "body" = pg_temp.with_stations('port', "body") WHERE "body"->>'kind' = 'telecontrol';
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		change || jsonb_build_object(
			'before', pg_temp.with_stations(change->>'entity', change->'before'),
			'after', pg_temp.with_stations(change->>'entity', change->'after'))
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "line"}]' OR "changes" @> '[{"entity": "port"}]';
