-- Frames of devices on CAN are rows of their own.
CREATE TABLE "frames" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL REFERENCES "projects"("id"),
	"body" jsonb NOT NULL,
	"device_id" uuid GENERATED ALWAYS AS ((body->>'deviceId')::uuid) STORED REFERENCES "devices"("id") DEFERRABLE INITIALLY DEFERRED
);
--> statement-breakpoint
CREATE INDEX "frames_project" ON "frames" USING btree ("project_id");
--> statement-breakpoint
CREATE INDEX "frames_device" ON "frames" USING btree ("device_id");
--> statement-breakpoint
UPDATE "library_versions" SET "body" = jsonb_build_object('frames', '[]'::jsonb) || "body";
