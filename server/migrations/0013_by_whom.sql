ALTER TABLE "change_sets" ADD COLUMN "by" text;
--> statement-breakpoint
ALTER TABLE "evidence" ADD COLUMN "by" text;
