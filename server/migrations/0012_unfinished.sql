CREATE TABLE "unfinished" (
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"kind" text NOT NULL,
	"body" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	PRIMARY KEY ("project_id", "kind")
);
--> statement-breakpoint
UPDATE "projects" SET "body" = jsonb_build_object('resumes', true) || "body";
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		CASE WHEN change->>'entity' = 'project' THEN change || jsonb_build_object(
			'before', jsonb_build_object('resumes', true) || (change->'before'),
			'after', jsonb_build_object('resumes', true) || (change->'after'))
		ELSE change END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "project"}]';
