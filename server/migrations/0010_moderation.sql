CREATE TABLE "chat_act" (
	"id" uuid PRIMARY KEY NOT NULL,
	"show_id" uuid NOT NULL,
	"message_id" uuid NOT NULL,
	"act" text NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "chat_muted" (
	"show_id" uuid NOT NULL,
	"destination_id" uuid NOT NULL,
	"author_id" text NOT NULL,
	"by" text NOT NULL,
	CONSTRAINT "chat_muted_show_id_destination_id_author_id_pk" PRIMARY KEY("show_id","destination_id","author_id")
);
--> statement-breakpoint
CREATE TABLE "chat_rules" (
	"id" integer PRIMARY KEY NOT NULL,
	"rules" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "standing" text DEFAULT 'shown' NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "standing_by" text;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "hidden_there" boolean;--> statement-breakpoint
ALTER TABLE "chat_message" ADD COLUMN "question" text DEFAULT 'none' NOT NULL;--> statement-breakpoint
ALTER TABLE "chat_act" ADD CONSTRAINT "chat_act_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_act" ADD CONSTRAINT "chat_act_message_id_chat_message_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."chat_message"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_muted" ADD CONSTRAINT "chat_muted_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chat_muted" ADD CONSTRAINT "chat_muted_destination_id_destination_id_fk" FOREIGN KEY ("destination_id") REFERENCES "public"."destination"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "chat_act_order" ON "chat_act" USING btree ("show_id","at");