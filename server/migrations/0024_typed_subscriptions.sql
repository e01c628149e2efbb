CREATE TABLE "version_subscription_entry" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "version_subscription_entry_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version_id" integer NOT NULL,
	"combination_id" integer NOT NULL,
	"month" date NOT NULL,
	"starters" numeric(24, 9) NOT NULL,
	"price" numeric(24, 9) NOT NULL,
	"journal_id" integer NOT NULL,
	CONSTRAINT "version_subscription_entry_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
ALTER TABLE "version_subscription_entry" ADD CONSTRAINT "version_subscription_entry_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_subscription_entry" ADD CONSTRAINT "version_subscription_entry_version" FOREIGN KEY ("workspace_id","version_id") REFERENCES "public"."version"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_subscription_entry" ADD CONSTRAINT "version_subscription_entry_combination" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_subscription_entry" ADD CONSTRAINT "version_subscription_entry_journal" FOREIGN KEY ("workspace_id","journal_id") REFERENCES "public"."journal"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "version_subscription_entry_cell" ON "version_subscription_entry" USING btree ("workspace_id","version_id","combination_id","month");