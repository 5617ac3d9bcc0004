CREATE TABLE "changes" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"take_id" uuid NOT NULL,
	"start_bar" integer NOT NULL,
	"bars" integer NOT NULL,
	"key_tonic" integer NOT NULL,
	"key_mode" text NOT NULL,
	"bpm" real NOT NULL,
	"meter_numerator" integer NOT NULL,
	"meter_denominator" integer NOT NULL,
	"chords" jsonb NOT NULL,
	"aside" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "corrections" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "numerals" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "changes" ADD CONSTRAINT "changes_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "changes_key" ON "changes" USING btree ("key_tonic","key_mode");