-- What was changed is told by what was taken away from: a join of the rows before and after was planned for a few of them, and cost seconds
-- where thousands of phrases were tagged at once.
CREATE OR REPLACE FUNCTION "tally_phrases_changed"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF NOT EXISTS (SELECT "id", "state", "take_id" FROM "added" EXCEPT SELECT "id", "state", "take_id" FROM "gone") THEN
		RETURN NULL;
	END IF;
	PERFORM "tally"('drafts', (SELECT count(*) FROM "added" WHERE "state" = 'draft') - (SELECT count(*) FROM "gone" WHERE "state" = 'draft'));
	PERFORM "tally"('kept', (SELECT count(*) FROM "added" WHERE "state" = 'kept') - (SELECT count(*) FROM "gone" WHERE "state" = 'kept'));
	UPDATE "takes" t SET "waits" = w."now" FROM (
		SELECT "take_id", NOT EXISTS (SELECT 1 FROM "phrases" p WHERE p."take_id" = q."take_id" AND p."state" <> 'discarded') AS "now"
		FROM (SELECT "take_id" FROM "added" UNION SELECT "take_id" FROM "gone") q
	) w WHERE t."id" = w."take_id" AND t."waits" <> w."now";
	RETURN NULL;
END $$;
