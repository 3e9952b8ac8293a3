CREATE TABLE "overlay_page" (
	"scope" text PRIMARY KEY NOT NULL,
	"token_hash" text NOT NULL,
	"token" text NOT NULL,
	"box" jsonb NOT NULL,
	CONSTRAINT "overlay_page_token_hash_unique" UNIQUE("token_hash")
);
