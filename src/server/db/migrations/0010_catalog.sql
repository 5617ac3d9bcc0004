CREATE TABLE "phrase_contents" (
	"phrase_id" uuid PRIMARY KEY NOT NULL,
	"origins" "bytea" NOT NULL,
	"streams" jsonb NOT NULL,
	"pitch_map" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"locked" text DEFAULT '' NOT NULL,
	"corrections" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"recipe" jsonb NOT NULL,
	"applied_to" text DEFAULT '' NOT NULL,
	"fitting" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"part_program" integer,
	"notes" "bytea" NOT NULL,
	"controls" "bytea" NOT NULL,
	"swatch" "bytea" NOT NULL,
	"timeline" jsonb NOT NULL,
	"changes" jsonb
);
--> statement-breakpoint
CREATE TABLE "phrase_marks" (
	"phrase_id" uuid PRIMARY KEY NOT NULL,
	"method" integer NOT NULL,
	"features" "bytea" NOT NULL,
	"profile" "bytea" NOT NULL,
	"fingerprint" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "phrase_parents" (
	"id" uuid PRIMARY KEY NOT NULL,
	"phrase_id" uuid NOT NULL,
	"parent_phrase_id" uuid,
	"parent_take_id" uuid,
	"done" text NOT NULL,
	"hash" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "phrases_apart" (
	"phrase_id" uuid NOT NULL,
	"other_id" uuid NOT NULL,
	CONSTRAINT "phrases_apart_phrase_id_other_id_pk" PRIMARY KEY("phrase_id","other_id")
);
--> statement-breakpoint
CREATE TABLE "searches" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"query" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "searches_name_unique" UNIQUE("name")
);
--> statement-breakpoint
DROP INDEX "phrases_name";--> statement-breakpoint
DROP INDEX "phrases_facets";--> statement-breakpoint
DROP INDEX "phrases_search";--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "rating" integer;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "heard_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "changed" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "tags" ADD COLUMN "parent_id" uuid;--> statement-breakpoint
ALTER TABLE "phrase_contents" ADD CONSTRAINT "phrase_contents_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrase_marks" ADD CONSTRAINT "phrase_marks_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrase_parents" ADD CONSTRAINT "phrase_parents_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrase_parents" ADD CONSTRAINT "phrase_parents_parent_phrase_id_phrases_id_fk" FOREIGN KEY ("parent_phrase_id") REFERENCES "public"."phrases"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrase_parents" ADD CONSTRAINT "phrase_parents_parent_take_id_takes_id_fk" FOREIGN KEY ("parent_take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrases_apart" ADD CONSTRAINT "phrases_apart_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrases_apart" ADD CONSTRAINT "phrases_apart_other_id_phrases_id_fk" FOREIGN KEY ("other_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "phrase_marks_method" ON "phrase_marks" USING btree ("method");--> statement-breakpoint
CREATE INDEX "phrase_parents_phrase" ON "phrase_parents" USING btree ("phrase_id");--> statement-breakpoint
CREATE INDEX "phrase_parents_of_phrase" ON "phrase_parents" USING btree ("parent_phrase_id");--> statement-breakpoint
CREATE INDEX "phrase_parents_of_take" ON "phrase_parents" USING btree ("parent_take_id");--> statement-breakpoint
CREATE INDEX "phrases_apart_other" ON "phrases_apart" USING btree ("other_id");--> statement-breakpoint
ALTER TABLE "tags" ADD CONSTRAINT "tags_parent_id_tags_id_fk" FOREIGN KEY ("parent_id") REFERENCES "public"."tags"("id") ON DELETE no action ON UPDATE no action DEFERRABLE INITIALLY DEFERRED;--> statement-breakpoint
CREATE INDEX "basket_items_phrase" ON "basket_items" USING btree ("phrase_id");--> statement-breakpoint
CREATE INDEX "batch_items_phrase" ON "batch_items" USING btree ("phrase_id");--> statement-breakpoint
CREATE INDEX "changes_take" ON "changes" USING btree ("take_id");--> statement-breakpoint
CREATE INDEX "phrases_changed" ON "phrases" USING btree ("changed");--> statement-breakpoint
CREATE INDEX "phrases_sheaf" ON "phrases" USING btree ("sheaf_id");--> statement-breakpoint
CREATE INDEX "phrases_project" ON "phrases" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "phrases_contributor" ON "phrases" USING btree ("contributor_id");--> statement-breakpoint
CREATE INDEX "phrases_drafts" ON "phrases" USING btree ("created_at") WHERE "phrases"."state" = 'draft';--> statement-breakpoint
CREATE INDEX "sheaves_take" ON "sheaves" USING btree ("take_id");--> statement-breakpoint
CREATE INDEX "tags_parent" ON "tags" USING btree ("parent_id");--> statement-breakpoint
CREATE INDEX "takes_source" ON "takes" USING btree ("source_id");--> statement-breakpoint
CREATE INDEX "takes_contributor" ON "takes" USING btree ("contributor_id");--> statement-breakpoint
INSERT INTO "phrase_contents" ("phrase_id", "origins", "streams", "pitch_map", "locked", "corrections", "recipe", "applied_to", "fitting", "part_program", "notes", "controls", "swatch", "timeline")
SELECT "id", "origins", "streams", "pitch_map", "locked", "corrections", "recipe", "applied_to", "fitting", "part_program", "notes", "controls", "swatch", "timeline" FROM "phrases";--> statement-breakpoint
INSERT INTO "phrase_marks" ("phrase_id", "method", "features", "profile", "fingerprint") SELECT "id", 0, '', '', '' FROM "phrases";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "origins";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "streams";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "pitch_map";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "locked";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "corrections";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "recipe";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "applied_to";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "fitting";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "part_program";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "notes";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "controls";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "swatch";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "timeline";--> statement-breakpoint
ALTER TABLE "phrases" DROP COLUMN "search_text";--> statement-breakpoint
CREATE FUNCTION "phrase_changed"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	NEW."changed" := pg_current_xact_id()::text::bigint;
	RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER "phrases_changed" BEFORE INSERT OR UPDATE ON "phrases" FOR EACH ROW EXECUTE FUNCTION "phrase_changed"();--> statement-breakpoint
CREATE FUNCTION "touch_phrases"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	UPDATE "phrases" SET "changed" = 0 WHERE "id" IN (SELECT "phrase_id" FROM "touched");
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION "touch_phrases_of"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF TG_TABLE_NAME = 'takes' THEN
		UPDATE "phrases" SET "changed" = 0 WHERE "take_id" = NEW."id";
	ELSIF TG_TABLE_NAME = 'sources' THEN
		UPDATE "phrases" SET "changed" = 0 WHERE "take_id" IN (SELECT "id" FROM "takes" WHERE "source_id" = NEW."id");
	ELSIF TG_TABLE_NAME = 'projects' THEN
		UPDATE "phrases" SET "changed" = 0 WHERE "project_id" = NEW."id";
	ELSIF TG_TABLE_NAME = 'contributors' THEN
		UPDATE "phrases" SET "changed" = 0 WHERE "contributor_id" = NEW."id";
	ELSIF TG_TABLE_NAME = 'tags' THEN
		UPDATE "phrases" SET "changed" = 0 WHERE "id" IN (SELECT "phrase_id" FROM "phrase_tags" WHERE "tag_id" = NEW."id");
	END IF;
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER "phrase_tags_put" AFTER INSERT ON "phrase_tags" REFERENCING NEW TABLE AS "touched" FOR EACH STATEMENT EXECUTE FUNCTION "touch_phrases"();--> statement-breakpoint
CREATE TRIGGER "phrase_tags_taken" AFTER DELETE ON "phrase_tags" REFERENCING OLD TABLE AS "touched" FOR EACH STATEMENT EXECUTE FUNCTION "touch_phrases"();--> statement-breakpoint
CREATE TRIGGER "basket_items_put" AFTER INSERT ON "basket_items" REFERENCING NEW TABLE AS "touched" FOR EACH STATEMENT EXECUTE FUNCTION "touch_phrases"();--> statement-breakpoint
CREATE TRIGGER "basket_items_taken" AFTER DELETE ON "basket_items" REFERENCING OLD TABLE AS "touched" FOR EACH STATEMENT EXECUTE FUNCTION "touch_phrases"();--> statement-breakpoint
CREATE TRIGGER "phrase_marks_put" AFTER INSERT ON "phrase_marks" REFERENCING NEW TABLE AS "touched" FOR EACH STATEMENT EXECUTE FUNCTION "touch_phrases"();--> statement-breakpoint
CREATE TRIGGER "phrase_marks_changed" AFTER UPDATE ON "phrase_marks" REFERENCING NEW TABLE AS "touched" FOR EACH STATEMENT EXECUTE FUNCTION "touch_phrases"();--> statement-breakpoint
CREATE TRIGGER "takes_called" AFTER UPDATE OF "name", "source_id", "file_name" ON "takes" FOR EACH ROW WHEN (OLD."name" IS DISTINCT FROM NEW."name" OR OLD."source_id" IS DISTINCT FROM NEW."source_id" OR OLD."file_name" IS DISTINCT FROM NEW."file_name") EXECUTE FUNCTION "touch_phrases_of"();--> statement-breakpoint
CREATE TRIGGER "sources_called" AFTER UPDATE OF "name" ON "sources" FOR EACH ROW WHEN (OLD."name" IS DISTINCT FROM NEW."name") EXECUTE FUNCTION "touch_phrases_of"();--> statement-breakpoint
CREATE TRIGGER "projects_called" AFTER UPDATE OF "name" ON "projects" FOR EACH ROW WHEN (OLD."name" IS DISTINCT FROM NEW."name") EXECUTE FUNCTION "touch_phrases_of"();--> statement-breakpoint
CREATE TRIGGER "contributors_called" AFTER UPDATE OF "name" ON "contributors" FOR EACH ROW WHEN (OLD."name" IS DISTINCT FROM NEW."name") EXECUTE FUNCTION "touch_phrases_of"();--> statement-breakpoint
CREATE TRIGGER "tags_called" AFTER UPDATE OF "name" ON "tags" FOR EACH ROW WHEN (OLD."name" IS DISTINCT FROM NEW."name") EXECUTE FUNCTION "touch_phrases_of"();