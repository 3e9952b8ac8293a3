CREATE TABLE "feed_event" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "feed_event_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"state" text NOT NULL,
	"reason" text,
	"place_says" text
);
--> statement-breakpoint
CREATE TABLE "feed_sample" (
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"kbps" integer,
	"left_out_pictures" integer NOT NULL,
	"viewers" integer,
	CONSTRAINT "feed_sample_show_id_destination_id_at_pk" PRIMARY KEY("show_id","destination_id","at")
);
--> statement-breakpoint
ALTER TABLE "feed_event" ADD CONSTRAINT "feed_event_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "feed_sample" ADD CONSTRAINT "feed_sample_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "feed_event_of" ON "feed_event" USING btree ("show_id","destination_id","id");