CREATE TABLE "recording" (
	"show_id" uuid NOT NULL,
	"run_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"status" text NOT NULL,
	"bytes" bigint,
	"length_ms" bigint,
	"started_at" timestamp (3) with time zone NOT NULL,
	"missing" jsonb,
	CONSTRAINT "recording_show_id_run_id_kind_pk" PRIMARY KEY("show_id","run_id","kind")
);
--> statement-breakpoint
ALTER TABLE "recording" ADD CONSTRAINT "recording_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;
--> statement-breakpoint
INSERT INTO "recording" ("show_id", "run_id", "kind", "status", "bytes", "length_ms", "started_at", "missing")
SELECT "programme"."show_id", (one->>'runId')::uuid, CASE one->>'kind' WHEN 'clean' THEN 'programme' ELSE one->>'kind' END, one->>'status', (one->>'bytes')::bigint, (one->>'lengthMs')::bigint, to_timestamp((one->>'startedAtMs')::double precision / 1000), nullif(one->'missing', 'null'::jsonb)
FROM "programme", jsonb_array_elements("programme"."report"->'recordings') AS one
ON CONFLICT DO NOTHING;
