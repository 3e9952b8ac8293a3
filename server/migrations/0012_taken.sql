ALTER TABLE "chat_message" ADD COLUMN "taken_by" uuid;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "taken_at" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "chat_message" ADD CONSTRAINT "chat_message_taken_by_member_id_fk" FOREIGN KEY ("taken_by") REFERENCES "public"."member"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "chat_message_taken" ON "chat_message" USING btree ("taken_at") WHERE taken_at is not null;