DROP INDEX "chat_act_order";--> statement-breakpoint
ALTER TABLE "chat_act" ADD COLUMN "number" bigint NOT NULL GENERATED ALWAYS AS IDENTITY (sequence name "chat_act_number_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1);--> statement-breakpoint
CREATE INDEX "chat_act_order" ON "chat_act" USING btree ("show_id","number");