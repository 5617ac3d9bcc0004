CREATE TABLE "comps" (
	"id" uuid PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"comp" jsonb NOT NULL,
	"take_id" uuid,
	"revision" integer DEFAULT 0 NOT NULL,
	"aside" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sweep_runs" (
	"sweep_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"settings" jsonb NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"heard" jsonb,
	"take_id" uuid,
	CONSTRAINT "sweep_runs_sweep_id_position_pk" PRIMARY KEY("sweep_id","position")
);
--> statement-breakpoint
CREATE TABLE "sweeps" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"plan" jsonb NOT NULL,
	"state" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "comps" ADD CONSTRAINT "comps_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sweep_runs" ADD CONSTRAINT "sweep_runs_sweep_id_sweeps_id_fk" FOREIGN KEY ("sweep_id") REFERENCES "public"."sweeps"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sweep_runs" ADD CONSTRAINT "sweep_runs_take_id_takes_id_fk" FOREIGN KEY ("take_id") REFERENCES "public"."takes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "comps_take" ON "comps" USING btree ("take_id");--> statement-breakpoint
CREATE INDEX "sweep_runs_take" ON "sweep_runs" USING btree ("take_id");--> statement-breakpoint
CREATE INDEX "sweeps_state" ON "sweeps" USING btree ("state");