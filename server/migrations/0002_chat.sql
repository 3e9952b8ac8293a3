CREATE TABLE "chat_message" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"place_message_id" text NOT NULL,
	"author_id" text NOT NULL,
	"author_name" text NOT NULL,
	"owner" boolean NOT NULL,
	"text" text NOT NULL,
	"written_at" timestamp (3) with time zone NOT NULL,
	"received_at" timestamp (3) with time zone NOT NULL,
	"show_time_ms" integer,
	"reply_to_place_id" text,
	"sent_by" uuid,
	CONSTRAINT "chat_message_once" UNIQUE("show_id","destination_id","place_message_id")
);
--> statement-breakpoint
CREATE TABLE "chat_sent" (
	"id" uuid NOT NULL,
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	CONSTRAINT "chat_sent_id_destination_id_pk" PRIMARY KEY("id","destination_id")
);
--> statement-breakpoint
CREATE TABLE "on_programme" (
	"show_id" uuid PRIMARY KEY NOT NULL,
	"message_id" uuid NOT NULL,
	"until" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "title" text;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "listing_state" text DEFAULT 'draft' NOT NULL;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "event_ref" text;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "page_url" text;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "most_viewers" integer;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "chat_open" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "chat_cursor" text;--> statement-breakpoint
ALTER TABLE "chat_message" ADD CONSTRAINT "chat_message_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_message" ADD CONSTRAINT "chat_message_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_message" ADD CONSTRAINT "chat_message_sent_by_member_id_fk" FOREIGN KEY ("sent_by") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_sent" ADD CONSTRAINT "chat_sent_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_sent" ADD CONSTRAINT "chat_sent_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "on_programme" ADD CONSTRAINT "on_programme_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "on_programme" ADD CONSTRAINT "on_programme_message_id_chat_message_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."chat_message"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "chat_message_order" ON "chat_message" USING btree ("show_id","written_at");