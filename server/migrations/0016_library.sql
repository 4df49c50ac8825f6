-- Devices that are kept beside the projects, each with its versions; and of which of them a device of a project is.
CREATE TABLE "library" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "library_versions" (
	"library_id" uuid NOT NULL REFERENCES "library"("id") ON DELETE CASCADE,
	"version" integer NOT NULL,
	"body" jsonb NOT NULL,
	"points" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"by" text,
	PRIMARY KEY ("library_id", "version")
);
--> statement-breakpoint
UPDATE "devices" SET "body" = jsonb_build_object('fromLibrary', null) || "body";
--> statement-breakpoint
UPDATE "change_sets" SET "changes" = (
	SELECT jsonb_agg(
		CASE WHEN change->>'entity' = 'device' THEN change || jsonb_build_object(
			'before', CASE WHEN jsonb_typeof(change->'before') = 'object'
				THEN jsonb_build_object('fromLibrary', null) || (change->'before') ELSE change->'before' END,
			'after', CASE WHEN jsonb_typeof(change->'after') = 'object'
				THEN jsonb_build_object('fromLibrary', null) || (change->'after') ELSE change->'after' END)
		ELSE change END
		ORDER BY place)
	FROM jsonb_array_elements("changes") WITH ORDINALITY AS listed(change, place)
) WHERE "changes" @> '[{"entity": "device"}]';
