CREATE TABLE "take_bases" (
	"take_id" uuid PRIMARY KEY NOT NULL,
	"base" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "take_bases" ADD CONSTRAINT "take_bases_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE cascade ON UPDATE no action;