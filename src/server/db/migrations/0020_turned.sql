ALTER TABLE "takes" ADD COLUMN "turned" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE "takes" SET "turned" = "revision";
