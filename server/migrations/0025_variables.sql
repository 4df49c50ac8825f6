-- What points are as variables of their controllers, and how lists of them are made, are rows of their own.
CREATE TABLE "variables" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"body" jsonb NOT NULL,
	"point_id" uuid GENERATED ALWAYS AS ((body->>'pointId')::uuid) STORED REFERENCES "points"("id") DEFERRABLE INITIALLY DEFERRED
);
--> statement-breakpoint
CREATE INDEX "variables_project" ON "variables" USING btree ("project_id");
--> statement-breakpoint
CREATE INDEX "variables_point" ON "variables" USING btree ("point_id");
--> statement-breakpoint
CREATE TABLE "list_profiles" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "list_profiles_project" ON "list_profiles" USING btree ("project_id");
