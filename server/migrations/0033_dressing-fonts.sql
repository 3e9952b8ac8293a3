CREATE TABLE "dressing_font" (
	"id" text PRIMARY KEY NOT NULL,
	"bytes" "bytea" NOT NULL,
	"sent_at" timestamp (3) with time zone NOT NULL
);
