ALTER TABLE "baskets" ADD COLUMN "layout" text DEFAULT 'folders' NOT NULL;--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "plain" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "previews" boolean DEFAULT false NOT NULL;