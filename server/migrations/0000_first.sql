CREATE TABLE "counted_try" (
	"key" varchar(255) PRIMARY KEY NOT NULL,
	"points" integer DEFAULT 0 NOT NULL,
	"expire" bigint
);
--> statement-breakpoint
CREATE TABLE "session" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"member_id" uuid,
	"guest_link_id" uuid,
	"created_at" timestamp (3) with time zone NOT NULL,
	"seen_at" timestamp (3) with time zone NOT NULL,
	"expires_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "event" (
	"stream" text NOT NULL,
	"seq" bigint NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"type" text NOT NULL,
	"payload" jsonb NOT NULL,
	CONSTRAINT "event_stream_seq_pk" PRIMARY KEY("stream","seq")
);
--> statement-breakpoint
CREATE TABLE "event_stream" (
	"stream" text PRIMARY KEY NOT NULL,
	"last_seq" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "guest_link" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"token_hash" text NOT NULL,
	"expires_at" timestamp (3) with time zone NOT NULL,
	"used_at" timestamp (3) with time zone,
	CONSTRAINT "guest_link_token_hash_unique" UNIQUE("token_hash"),
	CONSTRAINT "guest_link_person" UNIQUE("show_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "series" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "show" (
	"id" uuid PRIMARY KEY NOT NULL,
	"version" integer NOT NULL,
	"title" text NOT NULL,
	"description" text NOT NULL,
	"series_id" uuid,
	"start_local" text,
	"start_zone" text,
	"start_fold" text,
	"starts_at" timestamp (3) with time zone,
	"planned_minutes" integer NOT NULL,
	"started_at" timestamp (3) with time zone,
	"ended_at" timestamp (3) with time zone,
	"archived_at" timestamp (3) with time zone,
	"edited_at" timestamp (3) with time zone NOT NULL,
	"edited_by" uuid
);
--> statement-breakpoint
CREATE TABLE "show_person" (
	"show_id" uuid NOT NULL,
	"id" uuid NOT NULL,
	"position" integer NOT NULL,
	"member_id" uuid,
	"name" text NOT NULL,
	"part" text NOT NULL,
	"about" text NOT NULL,
	CONSTRAINT "show_person_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "invitation" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"role" text NOT NULL,
	"made_by" uuid,
	"expires_at" timestamp (3) with time zone NOT NULL,
	"used_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "member" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"email" text NOT NULL,
	"role" text NOT NULL,
	"password_hash" text,
	"joined_at" timestamp (3) with time zone NOT NULL,
	"removed_at" timestamp (3) with time zone
);
--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_member_id_member_id_fk" FOREIGN KEY ("member_id") REFERENCES "public"."member"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_guest_link_id_guest_link_id_fk" FOREIGN KEY ("guest_link_id") REFERENCES "public"."guest_link"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "guest_link" ADD CONSTRAINT "guest_link_show_id_person_id_show_person_show_id_id_fk" FOREIGN KEY ("show_id","person_id") REFERENCES "public"."show_person"("show_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show" ADD CONSTRAINT "show_series_id_series_id_fk" FOREIGN KEY ("series_id") REFERENCES "public"."series"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show" ADD CONSTRAINT "show_edited_by_member_id_fk" FOREIGN KEY ("edited_by") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show_person" ADD CONSTRAINT "show_person_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show_person" ADD CONSTRAINT "show_person_member_id_member_id_fk" FOREIGN KEY ("member_id") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_made_by_member_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "session_member" ON "session" USING btree ("member_id");--> statement-breakpoint
CREATE INDEX "session_expires" ON "session" USING btree ("expires_at");--> statement-breakpoint
CREATE INDEX "show_starts" ON "show" USING btree ("starts_at");--> statement-breakpoint
CREATE UNIQUE INDEX "member_email" ON "member" USING btree ("email") WHERE "member"."removed_at" is null;