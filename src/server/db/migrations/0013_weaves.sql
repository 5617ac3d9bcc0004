CREATE TABLE "weaves" (
	"id" uuid PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"project_id" uuid,
	"weave" jsonb NOT NULL,
	"revision" integer DEFAULT 0 NOT NULL,
	"aside" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "weaves" ADD CONSTRAINT "weaves_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "weaves_project" ON "weaves" USING btree ("project_id");