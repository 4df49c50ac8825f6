CREATE TABLE "papers" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"body" jsonb NOT NULL,
	"device_id" uuid GENERATED ALWAYS AS ((body->>'deviceId')::uuid) STORED REFERENCES "devices"("id") DEFERRABLE INITIALLY DEFERRED
);
--> statement-breakpoint
CREATE INDEX "papers_project" ON "papers" USING btree ("project_id");
--> statement-breakpoint
CREATE INDEX "papers_device" ON "papers" USING btree ("device_id");
