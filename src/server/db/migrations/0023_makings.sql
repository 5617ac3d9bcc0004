CREATE TABLE "making_items" (
	"making_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"take_id" uuid NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"phrase_ids" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	CONSTRAINT "making_items_making_id_position_pk" PRIMARY KEY("making_id","position")
);
--> statement-breakpoint
CREATE TABLE "makings" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid,
	"state" text DEFAULT 'running' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "making_items" ADD CONSTRAINT "making_items_making_id_makings_id_fk" FOREIGN KEY ("making_id") REFERENCES "public"."makings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "making_items" ADD CONSTRAINT "making_items_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "makings" ADD CONSTRAINT "makings_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "making_items_state" ON "making_items" USING btree ("making_id","state");--> statement-breakpoint
CREATE INDEX "making_items_take" ON "making_items" USING btree ("take_id");