CREATE TABLE "banks" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"sha256" text NOT NULL,
	"size" integer NOT NULL,
	"presets" integer NOT NULL,
	"roles" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "banks_sha256_unique" UNIQUE("sha256")
);
--> statement-breakpoint
CREATE TABLE "mirrored_files" (
	"basket_id" uuid NOT NULL,
	"phrase_id" uuid NOT NULL,
	"piece" text DEFAULT '' NOT NULL,
	"path" text NOT NULL,
	"sha256" text NOT NULL,
	"state" text DEFAULT 'ours' NOT NULL,
	CONSTRAINT "mirrored_files_basket_id_path_pk" PRIMARY KEY("basket_id","path")
);
--> statement-breakpoint
CREATE TABLE "recipients" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"card" jsonb NOT NULL,
	"out" jsonb,
	"sounds" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "recipients_name_unique" UNIQUE("name")
);
--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "recipient_id" uuid;--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "out" jsonb;--> statement-breakpoint
UPDATE "baskets" SET "out" = jsonb_build_object(
	'as', 'both', 'kit', 'whole', 'key', "leaves", 'tempo', 'curve', 'format', 1, 'ppq', NULL, 'markers', true, 'countIn', 0,
	'controllers', 'all',
	'sounds', CASE WHEN "plain" THEN 'plain' ELSE 'suggested' END,
	'fitting', CASE WHEN "fitted" THEN 'own' ELSE 'plain' END
);--> statement-breakpoint
ALTER TABLE "baskets" ALTER COLUMN "out" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "baskets" ADD COLUMN "mirror" text;--> statement-breakpoint
ALTER TABLE "houses" ADD COLUMN "out" jsonb;--> statement-breakpoint
ALTER TABLE "sources" ADD COLUMN "rights" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sources" ADD COLUMN "tags" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "mirrored_files" ADD CONSTRAINT "mirrored_files_basket_id_baskets_id_fk" FOREIGN KEY ("basket_id") REFERENCES "public"."baskets"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mirrored_files" ADD CONSTRAINT "mirrored_files_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "mirrored_files_phrase" ON "mirrored_files" USING btree ("phrase_id");--> statement-breakpoint
ALTER TABLE "baskets" ADD CONSTRAINT "baskets_recipient_id_recipients_id_fk" FOREIGN KEY ("recipient_id") REFERENCES "public"."recipients"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "baskets_recipient" ON "baskets" USING btree ("recipient_id");--> statement-breakpoint
CREATE INDEX "baskets_project" ON "baskets" USING btree ("project_id");--> statement-breakpoint
ALTER TABLE "baskets" ADD CONSTRAINT "baskets_mirror_unique" UNIQUE("mirror");