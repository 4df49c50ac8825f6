-- Revisions that somebody has given a name, and why.
CREATE TABLE "revision_names" (
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"revision" integer NOT NULL,
	"name" text NOT NULL,
	"note" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"by" text,
	PRIMARY KEY ("project_id", "revision")
);
