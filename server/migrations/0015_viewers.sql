CREATE TABLE "chat_reactions" (
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"totals" jsonb NOT NULL,
	"counts" jsonb NOT NULL,
	"minutes" jsonb NOT NULL,
	CONSTRAINT "chat_reactions_show_id_destination_id_pk" PRIMARY KEY("show_id","destination_id")
);
--> statement-breakpoint
CREATE TABLE "chat_writer" (
	"destination_id" uuid NOT NULL,
	"author_id" text NOT NULL,
	"show_id" uuid NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "chat_writer_destination_id_author_id_show_id_pk" PRIMARY KEY("destination_id","author_id","show_id")
);
--> statement-breakpoint
CREATE TABLE "show_chat_rules" (
	"show_id" uuid PRIMARY KEY NOT NULL,
	"rules" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "viewer_note" (
	"destination_id" uuid NOT NULL,
	"author_id" text NOT NULL,
	"note" text NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "viewer_note_destination_id_author_id_pk" PRIMARY KEY("destination_id","author_id")
);
--> statement-breakpoint
CREATE TABLE "show_mark" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"show_time_ms" integer NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"words" text NOT NULL,
	"by" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "kind" text DEFAULT 'message' NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "badges" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "account_days" integer;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "other_shows" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "first" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "edited_at" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "original_text" text;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "taken_back" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "for_host" text DEFAULT 'none' NOT NULL;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "viewer_delay_ms" integer;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "viewer_delay_from" text;--> statement-breakpoint
ALTER TABLE "chat_reactions" ADD CONSTRAINT "chat_reactions_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_reactions" ADD CONSTRAINT "chat_reactions_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_writer" ADD CONSTRAINT "chat_writer_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_writer" ADD CONSTRAINT "chat_writer_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show_chat_rules" ADD CONSTRAINT "show_chat_rules_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "viewer_note" ADD CONSTRAINT "viewer_note_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show_mark" ADD CONSTRAINT "show_mark_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "show_mark_order" ON "show_mark" USING btree ("show_id","show_time_ms");--> statement-breakpoint
INSERT INTO "chat_writer" ("destination_id", "author_id", "show_id", "at")
SELECT "destination_id", "author_id", "show_id", min("written_at") FROM "chat_message" WHERE NOT "owner" GROUP BY 1, 2, 3;
