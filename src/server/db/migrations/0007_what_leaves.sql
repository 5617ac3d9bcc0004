ALTER TABLE "baskets" ADD COLUMN "leaves" text DEFAULT 'captured' NOT NULL;--> statement-breakpoint
-- What was packed as it is kept left in the key of storage, which nobody had asked for.
UPDATE "baskets" SET "leaves" = 'project' WHERE "in_project_key";--> statement-breakpoint
ALTER TABLE "baskets" DROP COLUMN "in_project_key";--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "aside_from" text;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "dropped" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "revision" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
-- Rights that were said of a take reach its phrases.
UPDATE "phrases" SET "rights" = "takes"."rights" FROM "takes" WHERE "takes"."id" = "phrases"."take_id" AND "phrases"."rights" = '';--> statement-breakpoint
-- Takes that were renamed are found by their new name.
UPDATE "phrases" SET "search_text" = lower("phrases"."name" || ' ' || "phrases"."role" || ' ' || "phrases"."part_name" || ' ' || "takes"."name" || coalesce(' ' || (
  SELECT string_agg("tags"."name", ' ' ORDER BY "tags"."name") FROM "phrase_tags" JOIN "tags" ON "tags"."id" = "phrase_tags"."tag_id" WHERE "phrase_tags"."phrase_id" = "phrases"."id"), ''))
FROM "takes" WHERE "takes"."id" = "phrases"."take_id";
