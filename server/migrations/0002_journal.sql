CREATE TABLE "set_aside_line" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"date" date NOT NULL,
	"quantity" numeric(18, 3) NOT NULL,
	"net_amount" bigint NOT NULL,
	"cost" bigint NOT NULL,
	"document" text NOT NULL,
	"line_number" integer NOT NULL,
	"customer" text,
	"seller" text,
	"row" integer NOT NULL,
	"members" integer[] NOT NULL
);
--> statement-breakpoint
CREATE TABLE "version_entry" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "version_entry_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version_id" integer NOT NULL,
	"combination_id" integer NOT NULL,
	"month" date NOT NULL,
	"units" numeric(18, 3) NOT NULL,
	"revenue" bigint NOT NULL,
	"cost" bigint,
	"journal_id" integer NOT NULL,
	CONSTRAINT "version_entry_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
CREATE TABLE "answered_request" (
	"person_id" integer NOT NULL,
	"key" text NOT NULL,
	"fingerprint" text NOT NULL,
	"answer" jsonb,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "answered_request_person_id_key_pk" PRIMARY KEY("person_id","key")
);
--> statement-breakpoint
CREATE TABLE "journal" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "journal_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"person_id" integer NOT NULL,
	"room" text NOT NULL,
	"what" text NOT NULL,
	"why" text DEFAULT '' NOT NULL,
	"revision" bigint NOT NULL,
	"kind" text NOT NULL,
	"of_id" integer,
	"undone" boolean DEFAULT false NOT NULL,
	"undone_by" integer,
	"undoable" boolean DEFAULT true NOT NULL,
	"request_key" text,
	CONSTRAINT "journal_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
CREATE TABLE "journal_change" (
	"workspace_id" integer NOT NULL,
	"journal_id" integer NOT NULL,
	"place" integer NOT NULL,
	"thing" text NOT NULL,
	"thing_id" text NOT NULL,
	"cell" text NOT NULL,
	"label" text NOT NULL,
	"unit" text NOT NULL,
	"before" jsonb,
	"after" jsonb,
	CONSTRAINT "journal_change_workspace_id_journal_id_place_pk" PRIMARY KEY("workspace_id","journal_id","place")
);
--> statement-breakpoint
ALTER TABLE "version" DROP CONSTRAINT "version_workspaceId_name_unique";--> statement-breakpoint
ALTER TABLE "version" ADD COLUMN "state" text DEFAULT 'open' NOT NULL;--> statement-breakpoint
ALTER TABLE "version" ADD COLUMN "removed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "set_aside_line" ADD CONSTRAINT "set_aside_line_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_entry" ADD CONSTRAINT "version_entry_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_entry" ADD CONSTRAINT "version_entry_workspace_id_version_id_version_workspace_id_id_fk" FOREIGN KEY ("workspace_id","version_id") REFERENCES "public"."version"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_entry" ADD CONSTRAINT "version_entry_workspace_id_combination_id_combination_workspace_id_id_fk" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_entry" ADD CONSTRAINT "version_entry_workspace_id_journal_id_journal_workspace_id_id_fk" FOREIGN KEY ("workspace_id","journal_id") REFERENCES "public"."journal"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "answered_request" ADD CONSTRAINT "answered_request_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "journal" ADD CONSTRAINT "journal_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "journal" ADD CONSTRAINT "journal_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "journal_change" ADD CONSTRAINT "journal_change_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "journal_change" ADD CONSTRAINT "journal_change_workspace_id_journal_id_journal_workspace_id_id_fk" FOREIGN KEY ("workspace_id","journal_id") REFERENCES "public"."journal"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "set_aside_line_workspace_id_batch_id_index" ON "set_aside_line" USING btree ("workspace_id","batch_id");--> statement-breakpoint
CREATE INDEX "version_entry_workspace_id_version_id_combination_id_month_index" ON "version_entry" USING btree ("workspace_id","version_id","combination_id","month");--> statement-breakpoint
CREATE INDEX "answered_request_at_index" ON "answered_request" USING btree ("at");--> statement-breakpoint
CREATE INDEX "journal_workspace_id_person_id_id_index" ON "journal" USING btree ("workspace_id","person_id","id");--> statement-breakpoint
CREATE INDEX "journal_workspace_id_revision_index" ON "journal" USING btree ("workspace_id","revision");--> statement-breakpoint
CREATE INDEX "journal_change_workspace_id_thing_thing_id_index" ON "journal_change" USING btree ("workspace_id","thing","thing_id");--> statement-breakpoint
CREATE INDEX "sales_line_workspace_id_combination_id_date_index" ON "sales_line" USING btree ("workspace_id","combination_id","date");--> statement-breakpoint
CREATE INDEX "sales_line_workspace_id_batch_id_index" ON "sales_line" USING btree ("workspace_id","batch_id");--> statement-breakpoint
CREATE UNIQUE INDEX "one_version_a_name" ON "version" USING btree ("workspace_id","name") WHERE not removed;