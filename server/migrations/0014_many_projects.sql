-- Projects are listed, put away and thrown away; and each is for somebody.
ALTER TABLE "projects" ADD COLUMN "created_at" timestamp with time zone DEFAULT now() NOT NULL;
--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "archived_at" timestamp with time zone;
--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "deleted_at" timestamp with time zone;
--> statement-breakpoint
UPDATE "projects" SET "body" = jsonb_build_object('client', '') || "body";
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		CASE WHEN change->>'entity' = 'project' THEN change || jsonb_build_object(
			'before', jsonb_build_object('client', '') || (change->'before'),
			'after', jsonb_build_object('client', '') || (change->'after'))
		ELSE change END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "project"}]';
