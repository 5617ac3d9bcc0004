ALTER TABLE "jobs" DROP COLUMN "total";--> statement-breakpoint
ALTER TABLE "jobs" DROP COLUMN "outcomes";