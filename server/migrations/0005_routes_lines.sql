CREATE TABLE "listing_off" (
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"title" text,
	"description" text,
	"slot" jsonb NOT NULL,
	"settings" jsonb NOT NULL,
	CONSTRAINT "listing_off_show_id_destination_id_pk" PRIMARY KEY("show_id","destination_id")
);
--> statement-breakpoint
CREATE TABLE "named_route" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "named_route_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "route_destination" (
	"route_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"settings" jsonb NOT NULL,
	CONSTRAINT "route_destination_route_id_destination_id_pk" PRIMARY KEY("route_id","destination_id")
);
--> statement-breakpoint
ALTER TABLE "destination" ADD COLUMN "line_test" jsonb;--> statement-breakpoint
ALTER TABLE "destination" ADD COLUMN "line_test_event" text;--> statement-breakpoint
ALTER TABLE "destination" ADD COLUMN "region" text;--> statement-breakpoint
ALTER TABLE "destination" ADD COLUMN "nearest_region" text;--> statement-breakpoint
ALTER TABLE "listing_off" ADD CONSTRAINT "listing_off_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "listing_off" ADD CONSTRAINT "listing_off_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "route_destination" ADD CONSTRAINT "route_destination_route_id_named_route_id_fk" FOREIGN KEY ("route_id") REFERENCES "public"."named_route"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "route_destination" ADD CONSTRAINT "route_destination_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;