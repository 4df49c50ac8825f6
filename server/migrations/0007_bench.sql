CREATE TABLE "errands" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "errands_project" ON "errands" ("project_id");
--> statement-breakpoint
CREATE TABLE "watch_lists" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "watch_lists_project" ON "watch_lists" ("project_id");
--> statement-breakpoint
-- What was done and seen on the bench; it outlives what it is about.
CREATE TABLE "evidence" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"kind" text NOT NULL,
	"of" uuid NOT NULL,
	"revision" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "evidence_of" ON "evidence" ("project_id", "kind", "of", "at");
