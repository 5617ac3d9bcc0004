ALTER TABLE "baskets" DROP COLUMN "leaves";--> statement-breakpoint
ALTER TABLE "baskets" DROP COLUMN "fitted";--> statement-breakpoint
ALTER TABLE "baskets" DROP COLUMN "plain";