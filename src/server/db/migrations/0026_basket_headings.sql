ALTER TABLE "basket_items" ADD COLUMN "own" jsonb;--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "headings" jsonb DEFAULT '[]'::jsonb NOT NULL;