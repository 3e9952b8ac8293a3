CREATE TABLE "password_link" (
	"member_id" uuid PRIMARY KEY NOT NULL,
	"token_hash" text NOT NULL,
	"made_by" uuid NOT NULL,
	"expires_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "password_link" ADD CONSTRAINT "password_link_member_id_member_id_fk" FOREIGN KEY ("member_id") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "password_link" ADD CONSTRAINT "password_link_made_by_member_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;