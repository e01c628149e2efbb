CREATE TABLE "close" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "close_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"month" date NOT NULL,
	"version_id" integer NOT NULL,
	"closed_by" integer NOT NULL,
	"closed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"written_at" timestamp with time zone DEFAULT now() NOT NULL,
	"last_before" date NOT NULL,
	"by_itself" boolean DEFAULT false NOT NULL,
	"reopened" boolean DEFAULT false NOT NULL,
	CONSTRAINT "close_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
CREATE TABLE "closing_rules" (
	"workspace_id" integer PRIMARY KEY NOT NULL,
	"rules" jsonb NOT NULL,
	"person_id" integer NOT NULL
);
--> statement-breakpoint
DROP INDEX "one_version_a_name";--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "as_of_by" text DEFAULT 'hand' NOT NULL;--> statement-breakpoint
ALTER TABLE "version" ADD COLUMN "closed_month" date;--> statement-breakpoint
ALTER TABLE "close" ADD CONSTRAINT "close_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "close" ADD CONSTRAINT "close_closed_by_person_id_fk" FOREIGN KEY ("closed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "close" ADD CONSTRAINT "close_workspace_id_version_id_version_workspace_id_id_fk" FOREIGN KEY ("workspace_id","version_id") REFERENCES "public"."version"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "closing_rules" ADD CONSTRAINT "closing_rules_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "closing_rules" ADD CONSTRAINT "closing_rules_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "close_workspace_id_month_index" ON "close" USING btree ("workspace_id","month");--> statement-breakpoint
CREATE UNIQUE INDEX "one_version_a_name" ON "version" USING btree ("workspace_id","name") WHERE not removed and closed_month is null;