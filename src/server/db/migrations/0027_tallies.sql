CREATE TABLE "tallies" (
	"name" text NOT NULL,
	"shard" integer NOT NULL,
	"n" integer NOT NULL,
	CONSTRAINT "tallies_name_shard_pk" PRIMARY KEY("name","shard")
);
--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "waits" boolean DEFAULT true NOT NULL;--> statement-breakpoint
UPDATE "takes" t SET "waits" = false WHERE EXISTS (SELECT 1 FROM "phrases" p WHERE p."take_id" = t."id" AND p."state" <> 'discarded');--> statement-breakpoint
INSERT INTO "tallies" ("name", "shard", "n")
	SELECT 'takes', 0, count(*) FROM "takes" WHERE NOT "aside" UNION ALL
	SELECT 'waiting', 0, count(*) FROM "takes" WHERE NOT "aside" AND "waits" UNION ALL
	SELECT 'drafts', 0, count(*) FROM "phrases" WHERE "state" = 'draft' UNION ALL
	SELECT 'kept', 0, count(*) FROM "phrases" WHERE "state" = 'kept';--> statement-breakpoint
CREATE FUNCTION "tally"("what" text, "by" bigint) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
	IF "by" <> 0 THEN
		INSERT INTO "tallies" ("name", "shard", "n") VALUES ("what", pg_backend_pid() % 8, "by")
		ON CONFLICT ("name", "shard") DO UPDATE SET "n" = "tallies"."n" + EXCLUDED."n";
	END IF;
END $$;--> statement-breakpoint
CREATE FUNCTION "tally_takes_put"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM "tally"('takes', (SELECT count(*) FROM "added" WHERE NOT "aside"));
	PERFORM "tally"('waiting', (SELECT count(*) FROM "added" WHERE NOT "aside" AND "waits"));
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION "tally_takes_changed"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM "tally"('takes', (SELECT count(*) FROM "added" WHERE NOT "aside") - (SELECT count(*) FROM "gone" WHERE NOT "aside"));
	PERFORM "tally"('waiting', (SELECT count(*) FROM "added" WHERE NOT "aside" AND "waits") - (SELECT count(*) FROM "gone" WHERE NOT "aside" AND "waits"));
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION "tally_takes_gone"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM "tally"('takes', 0 - (SELECT count(*) FROM "gone" WHERE NOT "aside"));
	PERFORM "tally"('waiting', 0 - (SELECT count(*) FROM "gone" WHERE NOT "aside" AND "waits"));
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION "tally_phrases_put"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM "tally"('drafts', (SELECT count(*) FROM "added" WHERE "state" = 'draft'));
	PERFORM "tally"('kept', (SELECT count(*) FROM "added" WHERE "state" = 'kept'));
	UPDATE "takes" t SET "waits" = false WHERE t."waits" AND t."id" IN (SELECT "take_id" FROM "added" WHERE "state" <> 'discarded');
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION "tally_phrases_changed"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF NOT EXISTS (SELECT 1 FROM "gone" g JOIN "added" a USING ("id") WHERE g."state" <> a."state" OR g."take_id" <> a."take_id") THEN
		RETURN NULL;
	END IF;
	PERFORM "tally"('drafts', (SELECT count(*) FROM "added" WHERE "state" = 'draft') - (SELECT count(*) FROM "gone" WHERE "state" = 'draft'));
	PERFORM "tally"('kept', (SELECT count(*) FROM "added" WHERE "state" = 'kept') - (SELECT count(*) FROM "gone" WHERE "state" = 'kept'));
	UPDATE "takes" t SET "waits" = w."now" FROM (
		SELECT "take_id", NOT EXISTS (SELECT 1 FROM "phrases" p WHERE p."take_id" = q."take_id" AND p."state" <> 'discarded') AS "now"
		FROM (SELECT "take_id" FROM "added" UNION SELECT "take_id" FROM "gone") q
	) w WHERE t."id" = w."take_id" AND t."waits" <> w."now";
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION "tally_phrases_gone"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM "tally"('drafts', 0 - (SELECT count(*) FROM "gone" WHERE "state" = 'draft'));
	PERFORM "tally"('kept', 0 - (SELECT count(*) FROM "gone" WHERE "state" = 'kept'));
	UPDATE "takes" t SET "waits" = w."now" FROM (
		SELECT "take_id", NOT EXISTS (SELECT 1 FROM "phrases" p WHERE p."take_id" = q."take_id" AND p."state" <> 'discarded') AS "now"
		FROM (SELECT DISTINCT "take_id" FROM "gone") q
	) w WHERE t."id" = w."take_id" AND t."waits" <> w."now";
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER "takes_tally_put" AFTER INSERT ON "takes" REFERENCING NEW TABLE AS "added" FOR EACH STATEMENT EXECUTE FUNCTION "tally_takes_put"();--> statement-breakpoint
CREATE TRIGGER "takes_tally_changed" AFTER UPDATE ON "takes" REFERENCING OLD TABLE AS "gone" NEW TABLE AS "added" FOR EACH STATEMENT EXECUTE FUNCTION "tally_takes_changed"();--> statement-breakpoint
CREATE TRIGGER "takes_tally_gone" AFTER DELETE ON "takes" REFERENCING OLD TABLE AS "gone" FOR EACH STATEMENT EXECUTE FUNCTION "tally_takes_gone"();--> statement-breakpoint
CREATE TRIGGER "phrases_tally_put" AFTER INSERT ON "phrases" REFERENCING NEW TABLE AS "added" FOR EACH STATEMENT EXECUTE FUNCTION "tally_phrases_put"();--> statement-breakpoint
CREATE TRIGGER "phrases_tally_changed" AFTER UPDATE ON "phrases" REFERENCING OLD TABLE AS "gone" NEW TABLE AS "added" FOR EACH STATEMENT EXECUTE FUNCTION "tally_phrases_changed"();--> statement-breakpoint
CREATE TRIGGER "phrases_tally_gone" AFTER DELETE ON "phrases" REFERENCING OLD TABLE AS "gone" FOR EACH STATEMENT EXECUTE FUNCTION "tally_phrases_gone"();--> statement-breakpoint
-- What this transaction has written already needs no second version: a phrase was written three times when it came in.
CREATE OR REPLACE FUNCTION "touch_phrases"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	UPDATE "phrases" SET "changed" = 0 WHERE "id" IN (SELECT "phrase_id" FROM "touched") AND "changed" <> pg_current_xact_id()::text::bigint;
	RETURN NULL;
END $$;
