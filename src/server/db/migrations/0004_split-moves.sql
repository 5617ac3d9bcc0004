ALTER TABLE "phrases" ADD COLUMN "pitch_map" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "locked" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "proposals" integer DEFAULT 0 NOT NULL;