CREATE TABLE "batch_items" (
	"batch_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"phrase_id" uuid NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"before" jsonb,
	"after" jsonb,
	"difference" jsonb,
	"reason" text,
	CONSTRAINT "batch_items_batch_id_position_pk" PRIMARY KEY("batch_id","position")
);
--> statement-breakpoint
CREATE TABLE "batches" (
	"id" uuid PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"recipe" jsonb,
	"phase" text DEFAULT 'looking' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "feels" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"feel" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "feels_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "forgotten_habits" (
	"source_id" uuid NOT NULL,
	"habit" text NOT NULL,
	CONSTRAINT "forgotten_habits_source_id_habit_pk" PRIMARY KEY("source_id","habit")
);
--> statement-breakpoint
CREATE TABLE "houses" (
	"id" integer PRIMARY KEY NOT NULL,
	"house" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "presets" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"role" text,
	"recipe" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "presets_name_unique" UNIQUE("name")
);
--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "fitted" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "applied_to" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "fitting" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "part_program" integer;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "number" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "phrases" ADD COLUMN "pickup" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "batch_items" ADD CONSTRAINT "batch_items_batch_id_batches_id_fk" FOREIGN KEY ("batch_id") REFERENCES "public"."batches"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "batch_items" ADD CONSTRAINT "batch_items_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "forgotten_habits" ADD CONSTRAINT "forgotten_habits_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."sources"("id") ON DELETE cascade ON UPDATE no action;