CREATE TABLE "house_text" (
	"id" uuid PRIMARY KEY NOT NULL,
	"text" text NOT NULL,
	"position" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "timed_text" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"text" text NOT NULL,
	"kind" text NOT NULL,
	"seconds" integer NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"sentence" text,
	"tries" integer DEFAULT 0 NOT NULL,
	"made_by" uuid NOT NULL
);
--> statement-breakpoint
ALTER TABLE "timed_text" ADD CONSTRAINT "timed_text_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "timed_text" ADD CONSTRAINT "timed_text_made_by_member_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "timed_text_waiting" ON "timed_text" USING btree ("show_id","state");