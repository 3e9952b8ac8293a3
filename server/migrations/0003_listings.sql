CREATE TABLE "connecting" (
	"state_hash" text PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"verifier" text NOT NULL,
	"redirect_uri" text NOT NULL,
	"account_id" uuid,
	"member_id" uuid NOT NULL,
	"expires_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "place_account" (
	"id" uuid PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"place_account_id" text NOT NULL,
	"name" text NOT NULL,
	"address" text NOT NULL,
	"secret" text NOT NULL,
	"scopes" text[] NOT NULL,
	"widest" text,
	"lost_at" timestamp (3) with time zone,
	"connected_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "house_default" (
	"scope" text PRIMARY KEY NOT NULL,
	"settings" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"at_desk_minutes" integer DEFAULT 40 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "launch_job" (
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"job" text NOT NULL,
	"due_at" timestamp (3) with time zone NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL,
	"done_at" timestamp (3) with time zone,
	CONSTRAINT "launch_job_show_id_destination_id_job_pk" PRIMARY KEY("show_id","destination_id","job")
);
--> statement-breakpoint
CREATE TABLE "launch_tick" (
	"show_id" uuid NOT NULL,
	"item_id" text NOT NULL,
	"member_id" uuid,
	"ticked_at" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "launch_tick_show_id_item_id_pk" PRIMARY KEY("show_id","item_id")
);
--> statement-breakpoint
ALTER TABLE "destination" ADD COLUMN "account_id" uuid;--> statement-breakpoint
ALTER TABLE "destination" ADD COLUMN "placement" jsonb;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "description" text;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "slot" jsonb DEFAULT '{"kind":"with_show"}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "settings" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "booked_slot" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "booking_due" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "sent" jsonb;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "differs" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "problem" text;--> statement-breakpoint
ALTER TABLE "launch_job" ADD CONSTRAINT "launch_job_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "launch_tick" ADD CONSTRAINT "launch_tick_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "launch_tick" ADD CONSTRAINT "launch_tick_member_id_member_id_fk" FOREIGN KEY ("member_id") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "launch_job_due" ON "launch_job" USING btree ("due_at");--> statement-breakpoint
ALTER TABLE "destination" ADD CONSTRAINT "destination_account_id_place_account_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."place_account"("id") ON DELETE no action ON UPDATE no action;