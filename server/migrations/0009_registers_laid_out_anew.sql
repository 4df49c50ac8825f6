-- The stand-ins of the Plant meter and the Floor I/O block have their registers elsewhere; points of devices that they play follow,
-- in rows and in the history that undo goes back through.
CREATE TEMPORARY TABLE played AS
	SELECT "id"::text AS device_id, "body"->>'standIn' AS stand_in FROM "devices" WHERE "body"->>'standIn' IN ('floor-io', 'plant-meter')
	UNION
	SELECT change->>'id', change->'before'->>'standIn' FROM "change_sets", jsonb_array_elements("changes") AS change
	WHERE change->>'entity' = 'device' AND change->'before'->>'standIn' IN ('floor-io', 'plant-meter');
--> statement-breakpoint
CREATE FUNCTION pg_temp.register_anew(stand_in text, before int) RETURNS int LANGUAGE sql IMMUTABLE AS $$
	SELECT CASE
		WHEN stand_in = 'floor-io' AND before BETWEEN 1024 AND 1065 THEN before - 424
		WHEN stand_in = 'plant-meter' THEN CASE before
			WHEN 2999 THEN 7418 WHEN 3001 THEN 7422 WHEN 3003 THEN 7426
			WHEN 3027 THEN 7416 WHEN 3029 THEN 7420 WHEN 3031 THEN 7424
			WHEN 3059 THEN 7440 WHEN 3083 THEN 7460 WHEN 3109 THEN 7396
			WHEN 3203 THEN 8120 WHEN 3205 THEN 8122 WHEN 3219 THEN 8141
			ELSE before END
		ELSE before END
$$;
--> statement-breakpoint
CREATE FUNCTION pg_temp.point_anew(point jsonb) RETURNS jsonb LANGUAGE sql STABLE AS $$
	SELECT CASE WHEN point->>'table' = 'holding' THEN jsonb_set(point, '{offset}', to_jsonb(pg_temp.register_anew(
		(SELECT stand_in FROM pg_temp.played WHERE device_id = point->>'deviceId' LIMIT 1), (point->>'offset')::int)))
		ELSE point END
$$;
--> statement-breakpoint
CREATE FUNCTION pg_temp.device_anew(device jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
	SELECT CASE WHEN device->>'standIn' = 'plant-meter' THEN jsonb_set(device, '{forbidden}', coalesce((
		SELECT jsonb_agg(CASE
			WHEN stretch->>'table' = 'holding' AND stretch->>'first' = '3005' AND stretch->>'last' = '3026'
				THEN '{"table": "holding", "first": 7398, "last": 7415}'
			WHEN stretch->>'table' = 'holding' AND stretch->>'first' = '3033' AND stretch->>'last' = '3058'
				THEN '{"table": "holding", "first": 7428, "last": 7439}'
			ELSE stretch END ORDER BY place)
		FROM jsonb_array_elements(device->'forbidden') WITH ORDINALITY AS listed(stretch, place)), '[]'))
		ELSE device END
$$;
--> statement-breakpoint
UPDATE "points" SET "body" = pg_temp.point_anew("body") WHERE "body"->>'table' = 'holding';
--> statement-breakpoint
UPDATE "devices" SET "body" = pg_temp.device_anew("body") WHERE "body"->>'standIn' = 'plant-meter';
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(CASE change->>'entity'
		WHEN 'point' THEN change || jsonb_build_object(
			'before', pg_temp.point_anew(change->'before'), 'after', pg_temp.point_anew(change->'after'))
		WHEN 'device' THEN change || jsonb_build_object(
			'before', pg_temp.device_anew(change->'before'), 'after', pg_temp.device_anew(change->'after'))
		ELSE change END ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "point"}]' OR "changes" @> '[{"entity": "device"}]';
--> statement-breakpoint
DROP TABLE pg_temp.played;
