CREATE TABLE "picture" (
	"show_id" uuid NOT NULL,
	"scope" text NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "picture_show_id_scope_pk" PRIMARY KEY("show_id","scope")
);
--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "picture" jsonb;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "crop" jsonb;--> statement-breakpoint
ALTER TABLE "show_destination" ADD COLUMN "sent_picture" text;--> statement-breakpoint
ALTER TABLE "series" ADD COLUMN "recurrence" jsonb;--> statement-breakpoint
ALTER TABLE "show" ADD COLUMN "picture" jsonb;--> statement-breakpoint
ALTER TABLE "picture" ADD CONSTRAINT "picture_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;