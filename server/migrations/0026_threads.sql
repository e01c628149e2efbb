CREATE TABLE "thread" (
	"workspace_id" integer NOT NULL,
	"name" text NOT NULL,
	"room" text NOT NULL,
	"source" text NOT NULL,
	"against" text,
	"measure" text NOT NULL,
	"scope" integer[] NOT NULL,
	"from_month" text NOT NULL,
	"to_month" text NOT NULL,
	"comments" jsonb NOT NULL,
	"resolved" boolean NOT NULL,
	"changed_by" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "thread_workspace_id_name_pk" PRIMARY KEY("workspace_id","name")
);
--> statement-breakpoint
ALTER TABLE "thread" ADD CONSTRAINT "thread_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "thread" ADD CONSTRAINT "thread_changed_by_person_id_fk" FOREIGN KEY ("changed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "thread_place" ON "thread" USING btree ("workspace_id","room","source");