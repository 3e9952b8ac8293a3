CREATE TABLE "show_stage" (
	"show_id" uuid PRIMARY KEY NOT NULL,
	"version" integer NOT NULL,
	"stage" jsonb NOT NULL,
	"done" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "show_stage" ADD CONSTRAINT "show_stage_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;