CREATE TABLE "own_layout" (
	"id" uuid PRIMARY KEY NOT NULL,
	"scope" text NOT NULL,
	"name" text NOT NULL,
	"places" jsonb NOT NULL
);
