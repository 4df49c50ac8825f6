-- The unit IDs that a gateway forwards were called `passes`; in rows, and in the history that undo goes back through.
UPDATE "ports" SET "body" = ("body" - 'passes') || jsonb_build_object('forwardedUnits', "body"->'passes') WHERE "body" ? 'passes';
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		change
		|| CASE WHEN change->'before' ? 'passes'
			THEN jsonb_build_object('before', ((change->'before') - 'passes') || jsonb_build_object('forwardedUnits', change->'before'->'passes'))
			ELSE '{}' END
		|| CASE WHEN change->'after' ? 'passes'
			THEN jsonb_build_object('after', ((change->'after') - 'passes') || jsonb_build_object('forwardedUnits', change->'after'->'passes'))
			ELSE '{}' END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes"::text LIKE '%"passes"%';
