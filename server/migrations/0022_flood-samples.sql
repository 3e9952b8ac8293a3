ALTER TABLE "chat_flood" ADD COLUMN "samples" jsonb;--> statement-breakpoint
UPDATE "chat_flood" SET "samples" = jsonb_build_array("sample");--> statement-breakpoint
ALTER TABLE "chat_flood" ALTER COLUMN "samples" SET NOT NULL;
