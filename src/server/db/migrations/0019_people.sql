CREATE TABLE "attempts" (
	"id" uuid PRIMARY KEY NOT NULL,
	"key" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "deeds" (
	"id" uuid PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"person_id" uuid,
	"kind" text NOT NULL,
	"subject_id" uuid,
	"did" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "guest_baskets" (
	"person_id" uuid NOT NULL,
	"basket_id" uuid NOT NULL,
	CONSTRAINT "guest_baskets_person_id_basket_id_pk" PRIMARY KEY("person_id","basket_id")
);
--> statement-breakpoint
CREATE TABLE "invitations" (
	"id" uuid PRIMARY KEY NOT NULL,
	"token_hash" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"role" text NOT NULL,
	"baskets" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"person_id" uuid,
	"invited_by" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"used_at" timestamp with time zone,
	CONSTRAINT "invitations_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "people" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"role" text NOT NULL,
	"password" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"closed_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"id" uuid PRIMARY KEY NOT NULL,
	"token_hash" text NOT NULL,
	"person_id" uuid NOT NULL,
	"device" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	CONSTRAINT "sessions_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
ALTER TABLE "deeds" ADD CONSTRAINT "deeds_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "guest_baskets" ADD CONSTRAINT "guest_baskets_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "guest_baskets" ADD CONSTRAINT "guest_baskets_basket_id_baskets_id_fk" FOREIGN KEY ("basket_id") REFERENCES "public"."baskets"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitations" ADD CONSTRAINT "invitations_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitations" ADD CONSTRAINT "invitations_invited_by_people_id_fk" FOREIGN KEY ("invited_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "attempts_key" ON "attempts" USING btree ("key","at");--> statement-breakpoint
CREATE INDEX "deeds_at" ON "deeds" USING btree ("at");--> statement-breakpoint
CREATE INDEX "deeds_subject" ON "deeds" USING btree ("subject_id","at");--> statement-breakpoint
CREATE INDEX "guest_baskets_basket" ON "guest_baskets" USING btree ("basket_id");--> statement-breakpoint
CREATE UNIQUE INDEX "people_name" ON "people" USING btree (lower("name"));--> statement-breakpoint
CREATE INDEX "sessions_person" ON "sessions" USING btree ("person_id");