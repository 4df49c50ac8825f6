CREATE TABLE "change_sets" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"revision" integer NOT NULL,
	"kind" text NOT NULL,
	"of" uuid NOT NULL,
	"label" text NOT NULL,
	"changes" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "devices" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "lines" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "points" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"body" jsonb NOT NULL,
	"device_id" uuid GENERATED ALWAYS AS (((body->>'deviceId')::uuid)) STORED
);
--> statement-breakpoint
CREATE TABLE "ports" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"body" jsonb NOT NULL,
	"device_id" uuid GENERATED ALWAYS AS (((body->>'deviceId')::uuid)) STORED,
	"line_id" uuid GENERATED ALWAYS AS (((body->>'lineId')::uuid)) STORED
);
--> statement-breakpoint
CREATE TABLE "projects" (
	"id" uuid PRIMARY KEY NOT NULL,
	"body" jsonb NOT NULL,
	"revision" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rounds" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "routes" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"body" jsonb NOT NULL,
	"source_id" uuid GENERATED ALWAYS AS (((body->>'sourceId')::uuid)) STORED,
	"destination_id" uuid GENERATED ALWAYS AS (((body->>'destinationId')::uuid)) STORED,
	"round_id" uuid GENERATED ALWAYS AS (((body->>'roundId')::uuid)) STORED
);
--> statement-breakpoint
ALTER TABLE "change_sets" ADD CONSTRAINT "change_sets_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "devices" ADD CONSTRAINT "devices_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "lines" ADD CONSTRAINT "lines_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "points" ADD CONSTRAINT "points_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "points" ADD CONSTRAINT "points_device_id_devices_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."devices"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "ports" ADD CONSTRAINT "ports_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "ports" ADD CONSTRAINT "ports_device_id_devices_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."devices"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "ports" ADD CONSTRAINT "ports_line_id_lines_id_fk" FOREIGN KEY ("line_id") REFERENCES "public"."lines"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "rounds" ADD CONSTRAINT "rounds_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "routes" ADD CONSTRAINT "routes_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "routes" ADD CONSTRAINT "routes_source_id_points_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."points"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "routes" ADD CONSTRAINT "routes_destination_id_points_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."points"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
ALTER TABLE "routes" ADD CONSTRAINT "routes_round_id_rounds_id_fk" FOREIGN KEY ("round_id") REFERENCES "public"."rounds"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
CREATE UNIQUE INDEX "change_sets_revision" ON "change_sets" USING btree ("project_id","revision");--> statement-breakpoint
CREATE INDEX "devices_project" ON "devices" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "lines_project" ON "lines" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "points_project" ON "points" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "points_device" ON "points" USING btree ("device_id");--> statement-breakpoint
CREATE INDEX "ports_project" ON "ports" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "ports_device" ON "ports" USING btree ("device_id");--> statement-breakpoint
CREATE INDEX "ports_line" ON "ports" USING btree ("line_id");--> statement-breakpoint
CREATE INDEX "rounds_project" ON "rounds" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "routes_project" ON "routes" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "routes_source" ON "routes" USING btree ("source_id");--> statement-breakpoint
CREATE INDEX "routes_destination" ON "routes" USING btree ("destination_id");--> statement-breakpoint
CREATE INDEX "routes_round" ON "routes" USING btree ("round_id");