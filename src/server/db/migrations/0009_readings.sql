CREATE TABLE "take_readings" (
	"id" uuid PRIMARY KEY NOT NULL,
	"take_id" uuid NOT NULL,
	"method" integer NOT NULL,
	"moves" jsonb NOT NULL,
	"reading" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "keys_method" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "take_readings" ADD CONSTRAINT "take_readings_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "take_readings_take" ON "take_readings" USING btree ("take_id");