CREATE TABLE "capture_chunks" (
	"capture_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "capture_chunks_capture_id_position_pk" PRIMARY KEY("capture_id","position")
);
--> statement-breakpoint
CREATE TABLE "captures" (
	"id" uuid PRIMARY KEY NOT NULL,
	"plan" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "job_items" (
	"job_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"file" text NOT NULL,
	"path" text,
	"depth" integer DEFAULT 0 NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"take_id" uuid,
	"reason" text,
	CONSTRAINT "job_items_job_id_position_pk" PRIMARY KEY("job_id","position")
);
--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "origin" text DEFAULT 'page' NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "settings" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "closed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "asked" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "guesses" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "rights" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "capture" jsonb;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "account" jsonb;--> statement-breakpoint
ALTER TABLE "takes" ADD COLUMN "aside" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "capture_chunks" ADD CONSTRAINT "capture_chunks_capture_id_captures_id_fk" FOREIGN KEY ("capture_id") REFERENCES "public"."captures"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_items" ADD CONSTRAINT "job_items_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_items" ADD CONSTRAINT "job_items_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "job_items_state" ON "job_items" USING btree ("job_id","state");--> statement-breakpoint
CREATE INDEX "takes_name" ON "takes" USING btree (lower("name"));