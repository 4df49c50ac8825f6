-- What a serial port of this machine does with its own echo, and how many questions a device takes at a time: four as before where a
-- stand-in answers for it, one where nothing is known. In rows, and in the history that undo goes back through.
UPDATE "lines" SET "body" = jsonb_build_object('localEcho', 'none') || "body" WHERE "body"->>'kind' = 'serial';
--> statement-breakpoint
UPDATE "ports" SET "body" = jsonb_build_object('openTransactions', CASE WHEN "body"->>'standInAddress' IS NULL THEN 1 ELSE 4 END) || "body"
WHERE "body"->>'kind' = 'ethernet';
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		change
		|| CASE WHEN change->>'entity' = 'line' AND change->'before'->>'kind' = 'serial'
			THEN jsonb_build_object('before', jsonb_build_object('localEcho', 'none') || (change->'before')) ELSE '{}' END
		|| CASE WHEN change->>'entity' = 'line' AND change->'after'->>'kind' = 'serial'
			THEN jsonb_build_object('after', jsonb_build_object('localEcho', 'none') || (change->'after')) ELSE '{}' END
		|| CASE WHEN change->>'entity' = 'port' AND change->'before'->>'kind' = 'ethernet'
			THEN jsonb_build_object('before', jsonb_build_object('openTransactions',
				CASE WHEN change->'before'->>'standInAddress' IS NULL THEN 1 ELSE 4 END) || (change->'before')) ELSE '{}' END
		|| CASE WHEN change->>'entity' = 'port' AND change->'after'->>'kind' = 'ethernet'
			THEN jsonb_build_object('after', jsonb_build_object('openTransactions',
				CASE WHEN change->'after'->>'standInAddress' IS NULL THEN 1 ELSE 4 END) || (change->'after')) ELSE '{}' END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE jsonb_path_exists("changes", '$[*] ? (@.entity == "line" || @.entity == "port")');
