CREATE TABLE "sheet" (
	"workspace_id" integer NOT NULL,
	"name" text NOT NULL,
	"title" text NOT NULL,
	"version_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"scope" integer[] NOT NULL,
	"rows" text[] NOT NULL,
	"measure" text NOT NULL,
	"due" date,
	"state" text NOT NULL,
	"steps" jsonb NOT NULL,
	"changed_by" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sheet_workspace_id_name_pk" PRIMARY KEY("workspace_id","name")
);
--> statement-breakpoint
CREATE TABLE "sheet_line" (
	"workspace_id" integer NOT NULL,
	"name" text NOT NULL,
	"sheet" text NOT NULL,
	"scope" integer[] NOT NULL,
	"comment" text NOT NULL,
	"basis" text NOT NULL,
	"locked" boolean NOT NULL,
	"changed_by" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sheet_line_workspace_id_name_pk" PRIMARY KEY("workspace_id","name")
);
--> statement-breakpoint
ALTER TABLE "sheet" ADD CONSTRAINT "sheet_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sheet" ADD CONSTRAINT "sheet_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sheet" ADD CONSTRAINT "sheet_changed_by_person_id_fk" FOREIGN KEY ("changed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sheet" ADD CONSTRAINT "sheet_workspace_id_version_id_version_workspace_id_id_fk" FOREIGN KEY ("workspace_id","version_id") REFERENCES "public"."version"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sheet_line" ADD CONSTRAINT "sheet_line_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sheet_line" ADD CONSTRAINT "sheet_line_changed_by_person_id_fk" FOREIGN KEY ("changed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "sheet_line_sheet" ON "sheet_line" USING btree ("workspace_id","sheet");