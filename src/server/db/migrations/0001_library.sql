CREATE TABLE "basket_items" (
	"basket_id" uuid NOT NULL,
	"phrase_id" uuid NOT NULL,
	"position" integer NOT NULL,
	CONSTRAINT "basket_items_basket_id_phrase_id_pk" PRIMARY KEY("basket_id","phrase_id")
);
--> statement-breakpoint
CREATE TABLE "baskets" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"project_id" uuid,
	"pattern" text NOT NULL,
	"in_project_key" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "contributors" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "contributors_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "jobs" (
	"id" uuid PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"state" text DEFAULT 'running' NOT NULL,
	"total" integer NOT NULL,
	"outcomes" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "originals" (
	"sha256" text PRIMARY KEY NOT NULL,
	"bytes" "bytea" NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "parts" (
	"take_id" uuid NOT NULL,
	"key" text NOT NULL,
	"position" integer NOT NULL,
	"name" text NOT NULL,
	"role" text NOT NULL,
	"certainty" real NOT NULL,
	"channel" integer NOT NULL,
	"program" integer NOT NULL,
	"notes" integer NOT NULL,
	CONSTRAINT "parts_take_id_key_pk" PRIMARY KEY("take_id","key")
);
--> statement-breakpoint
CREATE TABLE "phrase_tags" (
	"phrase_id" uuid NOT NULL,
	"tag_id" uuid NOT NULL,
	CONSTRAINT "phrase_tags_phrase_id_tag_id_pk" PRIMARY KEY("phrase_id","tag_id")
);
--> statement-breakpoint
CREATE TABLE "phrases" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"state" text DEFAULT 'draft' NOT NULL,
	"role" text NOT NULL,
	"take_id" uuid NOT NULL,
	"part_name" text NOT NULL,
	"origins" "bytea" NOT NULL,
	"streams" jsonb NOT NULL,
	"take_key" jsonb,
	"recipe" jsonb NOT NULL,
	"sheaf_id" uuid,
	"project_id" uuid,
	"contributor_id" uuid,
	"rights" text DEFAULT '' NOT NULL,
	"notes" "bytea" NOT NULL,
	"controls" "bytea" NOT NULL,
	"swatch" "bytea" NOT NULL,
	"timeline" jsonb NOT NULL,
	"note_count" integer NOT NULL,
	"length" integer NOT NULL,
	"start_bar" integer NOT NULL,
	"bars" integer NOT NULL,
	"key_tonic" integer,
	"key_mode" text,
	"bpm" real NOT NULL,
	"meter_numerator" integer NOT NULL,
	"meter_denominator" integer NOT NULL,
	"channel" integer NOT NULL,
	"program" integer NOT NULL,
	"search_text" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "projects" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"key_tonic" integer,
	"key_mode" text,
	"bpm" real NOT NULL,
	"meter_numerator" integer NOT NULL,
	"meter_denominator" integer NOT NULL,
	"chords" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "projects_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "sheaves" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"take_id" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sources" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sources_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "tags" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "tags_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "takes" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"found_name" text NOT NULL,
	"file_name" text NOT NULL,
	"sha256" text NOT NULL,
	"pattern" integer DEFAULT 0 NOT NULL,
	"source_id" uuid,
	"contributor_id" uuid,
	"facts" jsonb NOT NULL,
	"keys" jsonb NOT NULL,
	"chosen_key" jsonb,
	"moves" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"moves_done" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "takes_original" UNIQUE("sha256","pattern")
);
--> statement-breakpoint
ALTER TABLE "basket_items" ADD CONSTRAINT "basket_items_basket_id_baskets_id_fk" FOREIGN KEY ("basket_id") REFERENCES "public"."baskets"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "basket_items" ADD CONSTRAINT "basket_items_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "baskets" ADD CONSTRAINT "baskets_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "parts" ADD CONSTRAINT "parts_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrase_tags" ADD CONSTRAINT "phrase_tags_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrase_tags" ADD CONSTRAINT "phrase_tags_tag_id_tags_id_fk" FOREIGN KEY ("tag_id") REFERENCES "public"."tags"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrases" ADD CONSTRAINT "phrases_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrases" ADD CONSTRAINT "phrases_sheaf_id_sheaves_id_fk" FOREIGN KEY ("sheaf_id") REFERENCES "public"."sheaves"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrases" ADD CONSTRAINT "phrases_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "phrases" ADD CONSTRAINT "phrases_contributor_id_contributors_id_fk" FOREIGN KEY ("contributor_id") REFERENCES "public"."contributors"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sheaves" ADD CONSTRAINT "sheaves_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "takes" ADD CONSTRAINT "takes_sha256_originals_sha256_fk" FOREIGN KEY ("sha256") REFERENCES "public"."originals"("sha256") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "takes" ADD CONSTRAINT "takes_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."sources"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "takes" ADD CONSTRAINT "takes_contributor_id_contributors_id_fk" FOREIGN KEY ("contributor_id") REFERENCES "public"."contributors"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "phrase_tags_tag" ON "phrase_tags" USING btree ("tag_id");--> statement-breakpoint
CREATE INDEX "phrases_name" ON "phrases" USING btree ("state",lower("name"),"id");--> statement-breakpoint
CREATE INDEX "phrases_facets" ON "phrases" USING btree ("state","role","bpm");--> statement-breakpoint
CREATE INDEX "phrases_take" ON "phrases" USING btree ("take_id");--> statement-breakpoint
CREATE INDEX "phrases_search" ON "phrases" USING gin ("search_text" gin_trgm_ops);--> statement-breakpoint
CREATE INDEX "takes_created" ON "takes" USING btree ("created_at");