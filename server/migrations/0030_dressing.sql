CREATE TABLE "dressing" (
	"scope" text PRIMARY KEY NOT NULL,
	"dressing" jsonb NOT NULL
);
