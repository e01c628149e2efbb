CREATE TABLE "adjustment" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "adjustment_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"driver" text NOT NULL,
	"scope" integer[] NOT NULL,
	"from_month" date,
	"to_month" date,
	"kind" text NOT NULL,
	"value" numeric NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"changed_by" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "adjustment_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "plan_revision" bigint DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "driver" ADD COLUMN "nature" text;--> statement-breakpoint
ALTER TABLE "driver" ADD COLUMN "weight" text;--> statement-breakpoint
ALTER TABLE "adjustment" ADD CONSTRAINT "adjustment_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "adjustment" ADD CONSTRAINT "adjustment_changed_by_person_id_fk" FOREIGN KEY ("changed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "adjustment_workspace_id_driver_index" ON "adjustment" USING btree ("workspace_id","driver");