CREATE TABLE "chat_practice" (
	"show_id" uuid PRIMARY KEY NOT NULL,
	"by" text NOT NULL,
	"started_at" timestamp (3) with time zone NOT NULL,
	"speed" integer NOT NULL,
	"lines" jsonb NOT NULL,
	"given" integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "show_time_about" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "practice" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_practice" ADD CONSTRAINT "chat_practice_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "chat_message_about" ON "chat_message" USING btree ("show_id","destination_id") WHERE show_time_about;