CREATE TABLE "rule_alarm" (
	"id" uuid PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"rule" text NOT NULL,
	"ours" integer NOT NULL,
	"theirs" integer NOT NULL,
	"raised_at" timestamp (3) with time zone NOT NULL,
	"dismissed_at" timestamp (3) with time zone,
	CONSTRAINT "rule_alarm_once" UNIQUE("kind","rule","ours","theirs")
);
--> statement-breakpoint
CREATE TABLE "rule_correction" (
	"id" uuid PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"rule" text NOT NULL,
	"was" integer NOT NULL,
	"is" integer NOT NULL,
	"since" text NOT NULL,
	"source" text NOT NULL,
	"member_id" uuid,
	"written_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "rule_correction" ADD CONSTRAINT "rule_correction_member_id_member_id_fk" FOREIGN KEY ("member_id") REFERENCES "public"."member"("id") ON DELETE no action ON UPDATE no action;