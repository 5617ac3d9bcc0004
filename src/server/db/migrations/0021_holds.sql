CREATE TABLE "holds" (
	"what" text PRIMARY KEY NOT NULL,
	"worker_id" uuid NOT NULL
);
--> statement-breakpoint
CREATE TABLE "workers" (
	"id" uuid PRIMARY KEY NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
