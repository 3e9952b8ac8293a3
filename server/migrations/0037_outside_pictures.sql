CREATE TABLE "ingest_input" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"name" text NOT NULL,
	"locked_key" text NOT NULL,
	"second" text NOT NULL,
	"on_arrival" text NOT NULL,
	"made_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "programme_input" (
	"show_id" uuid PRIMARY KEY NOT NULL,
	"input_id" uuid NOT NULL
);
--> statement-breakpoint
ALTER TABLE "ingest_input" ADD CONSTRAINT "ingest_input_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "programme_input" ADD CONSTRAINT "programme_input_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "programme_input" ADD CONSTRAINT "programme_input_input_id_ingest_input_id_fk" FOREIGN KEY ("input_id") REFERENCES "public"."ingest_input"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "ingest_input_show" ON "ingest_input" USING btree ("show_id","made_at");