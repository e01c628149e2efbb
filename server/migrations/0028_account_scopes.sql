CREATE TABLE "account_scope" (
	"workspace_id" integer NOT NULL,
	"name" text NOT NULL,
	"scope" integer[] NOT NULL,
	"account" text NOT NULL,
	"changed_by" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "account_scope_workspace_id_name_pk" PRIMARY KEY("workspace_id","name")
);
--> statement-breakpoint
ALTER TABLE "account_scope" ADD CONSTRAINT "account_scope_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "account_scope" ADD CONSTRAINT "account_scope_changed_by_person_id_fk" FOREIGN KEY ("changed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;