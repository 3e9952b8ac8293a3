CREATE TABLE "chat_flood" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"since_at" timestamp (3) with time zone NOT NULL,
	"last_at" timestamp (3) with time zone NOT NULL,
	"ended_at" timestamp (3) with time zone,
	"messages" integer NOT NULL,
	"writers" integer NOT NULL,
	"destination_ids" jsonb NOT NULL,
	"sample" text NOT NULL,
	"traits" jsonb NOT NULL,
	"authors" jsonb NOT NULL,
	"answer" text DEFAULT 'open' NOT NULL,
	"answered_by" text
);
--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "flood_id" uuid;--> statement-breakpoint
ALTER TABLE "chat_flood" ADD CONSTRAINT "chat_flood_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "chat_flood_order" ON "chat_flood" USING btree ("show_id","last_at");--> statement-breakpoint
ALTER TABLE "chat_message" ADD CONSTRAINT "chat_message_flood_id_chat_flood_id_fk" FOREIGN KEY ("flood_id") REFERENCES "public"."chat_flood"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "chat_message_of_flood" ON "chat_message" USING btree ("flood_id");