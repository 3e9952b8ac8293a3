ALTER TABLE "ingest_input" ADD COLUMN "transport" text DEFAULT 'rtmp' NOT NULL;--> statement-breakpoint
ALTER TABLE "ingest_input" ADD COLUMN "srt_port" integer;--> statement-breakpoint
ALTER TABLE "ingest_input" ADD CONSTRAINT "ingest_input_srt_port_unique" UNIQUE("srt_port");