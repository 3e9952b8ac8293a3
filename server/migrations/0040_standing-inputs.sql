ALTER TABLE "ingest_input" ALTER COLUMN "show_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "ingest_input" ADD COLUMN "is_standing" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "ingest_input" ADD COLUMN "called_address" text;