CREATE TABLE "audit_event" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "audit_event_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"kind" text NOT NULL,
	"person_id" integer,
	"workspace_id" integer,
	"address" text DEFAULT '' NOT NULL,
	"detail" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "invitation" (
	"workspace_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"name" text NOT NULL,
	"hash" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	CONSTRAINT "invitation_workspace_id_person_id_pk" PRIMARY KEY("workspace_id","person_id"),
	CONSTRAINT "invitation_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE TABLE "recovery_code" (
	"person_id" integer NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "recovery_code_person_id_hash_pk" PRIMARY KEY("person_id","hash")
);
--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "second_factor" text;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "last_step" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "makes_workspaces" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "second_factor" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "audit_event" ADD CONSTRAINT "audit_event_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_workspace_id_person_id_membership_workspace_id_person_id_fk" FOREIGN KEY ("workspace_id","person_id") REFERENCES "public"."membership"("workspace_id","person_id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recovery_code" ADD CONSTRAINT "recovery_code_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "audit_event_workspace_id_id_index" ON "audit_event" USING btree ("workspace_id","id");--> statement-breakpoint
CREATE INDEX "audit_event_person_id_id_index" ON "audit_event" USING btree ("person_id","id");--> statement-breakpoint
CREATE INDEX "audit_event_at_index" ON "audit_event" USING btree ("at");--> statement-breakpoint
CREATE INDEX "session_person" ON "session" USING btree ((sess ->> 'personId'));