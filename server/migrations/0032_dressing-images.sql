CREATE TABLE "dressing_image" (
	"id" text PRIMARY KEY NOT NULL,
	"type" text NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	"sent_at" timestamp (3) with time zone NOT NULL
);
