CREATE TABLE "destination" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"code" text NOT NULL,
	"pattern" text NOT NULL,
	"kind" text NOT NULL,
	"address" text NOT NULL,
	"secret" text,
	"page_url" text,
	"added_at" timestamp (3) with time zone NOT NULL,
	"removed_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "show_destination" (
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"position" integer NOT NULL,
	CONSTRAINT "show_destination_show_id_destination_id_pk" PRIMARY KEY("show_id","destination_id")
);
--> statement-breakpoint
CREATE TABLE "composing" (
	"show_id" uuid PRIMARY KEY NOT NULL,
	"epoch" integer NOT NULL,
	"desk_id" uuid NOT NULL,
	"member_id" uuid NOT NULL,
	"taken_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "feed" (
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"wanted" boolean NOT NULL,
	"report" jsonb,
	"reported_at" timestamp (3) with time zone,
	CONSTRAINT "feed_show_id_destination_id_pk" PRIMARY KEY("show_id","destination_id")
);
--> statement-breakpoint
CREATE TABLE "programme" (
	"show_id" uuid PRIMARY KEY NOT NULL,
	"report" jsonb NOT NULL,
	"states" text NOT NULL,
	"reported_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "run" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"started_at" timestamp (3) with time zone NOT NULL,
	"ended_at" timestamp (3) with time zone
);
--> statement-breakpoint
ALTER TABLE "show_destination" ADD CONSTRAINT "show_destination_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show_destination" ADD CONSTRAINT "show_destination_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "composing" ADD CONSTRAINT "composing_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "composing" ADD CONSTRAINT "composing_member_id_member_id_fk" FOREIGN KEY ("member_id") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "feed" ADD CONSTRAINT "feed_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "feed" ADD CONSTRAINT "feed_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "programme" ADD CONSTRAINT "programme_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;