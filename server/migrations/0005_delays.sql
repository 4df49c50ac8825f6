-- Devices say how long they think and how much is lost on the way; routes how old their values may be.
UPDATE "devices" SET "body" = '{"delayMs": 5, "lossPercent": 0}'::jsonb || "body";
--> statement-breakpoint
UPDATE "routes" SET "body" = '{"maxAgeMs": null}'::jsonb || "body";
--> statement-breakpoint
UPDATE "rounds" SET "body" = '{"phaseMs": 0, "pauseMs": null}'::jsonb || "body";
