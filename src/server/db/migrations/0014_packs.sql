CREATE TABLE "pack_items" (
	"pack_id" uuid NOT NULL,
	"phrase_id" uuid NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "pack_items_pack_id_phrase_id_pk" PRIMARY KEY("pack_id","phrase_id")
);
--> statement-breakpoint
CREATE TABLE "packs" (
	"id" uuid PRIMARY KEY NOT NULL,
	"basket_id" uuid,
	"title" text NOT NULL,
	"made_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "pack_items" ADD CONSTRAINT "pack_items_pack_id_packs_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."packs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack_items" ADD CONSTRAINT "pack_items_phrase_id_phrases_id_fk" FOREIGN KEY ("phrase_id") REFERENCES "public"."phrases"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "packs" ADD CONSTRAINT "packs_basket_id_baskets_id_fk" FOREIGN KEY ("basket_id") REFERENCES "public"."baskets"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "pack_items_phrase" ON "pack_items" USING btree ("phrase_id");--> statement-breakpoint
CREATE INDEX "packs_basket" ON "packs" USING btree ("basket_id");