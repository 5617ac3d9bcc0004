ALTER TABLE "baskets" ADD COLUMN "preview_sums" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "preview_beds" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "houses" ADD COLUMN "library" uuid DEFAULT gen_random_uuid() NOT NULL;--> statement-breakpoint
ALTER TABLE "pack_items" ADD COLUMN "played" text;--> statement-breakpoint
ALTER TABLE "pack_items" ADD COLUMN "told" jsonb;--> statement-breakpoint
ALTER TABLE "packs" ADD COLUMN "direction" text DEFAULT 'out' NOT NULL;