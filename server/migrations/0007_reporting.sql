CREATE TABLE "access_token" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "access_token_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"start" text NOT NULL,
	"hash" text NOT NULL,
	"created_by" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"withdrawn_at" timestamp with time zone,
	"last_used_at" timestamp with time zone,
	CONSTRAINT "access_token_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "access_token_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE TABLE "saved_view" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "saved_view_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"start" text NOT NULL,
	"hash" text NOT NULL,
	"created_by" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"withdrawn_at" timestamp with time zone,
	"query" jsonb NOT NULL,
	CONSTRAINT "saved_view_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "saved_view_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
ALTER TABLE "access_token" ADD CONSTRAINT "access_token_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access_token" ADD CONSTRAINT "access_token_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_view" ADD CONSTRAINT "saved_view_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_view" ADD CONSTRAINT "saved_view_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "access_token_workspace_id_created_by_index" ON "access_token" USING btree ("workspace_id","created_by");