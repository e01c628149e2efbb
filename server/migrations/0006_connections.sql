CREATE TABLE "connection" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "connection_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"url" text NOT NULL,
	"key" text NOT NULL,
	"every_minutes" integer,
	"cursor" bigint DEFAULT 0 NOT NULL,
	"next_run_at" timestamp with time zone,
	"away_since" timestamp with time zone,
	"misses" integer DEFAULT 0 NOT NULL,
	"last_done_at" timestamp with time zone,
	"created_by" integer NOT NULL,
	CONSTRAINT "connection_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
CREATE TABLE "connection_run" (
	"workspace_id" integer NOT NULL,
	"connection_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "connection_run_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone,
	"state" text NOT NULL,
	"added" integer DEFAULT 0 NOT NULL,
	"replaced" integer DEFAULT 0 NOT NULL,
	"same" integer DEFAULT 0 NOT NULL,
	"held" integer DEFAULT 0 NOT NULL,
	"revenue" bigint DEFAULT 0 NOT NULL,
	"message" text DEFAULT '' NOT NULL,
	"batch_id" integer,
	CONSTRAINT "connection_run_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
CREATE TABLE "feed_document" (
	"workspace_id" integer NOT NULL,
	"connection_id" integer NOT NULL,
	"number" text NOT NULL,
	"revision" integer NOT NULL,
	"waiting" jsonb,
	"reason" text DEFAULT '' NOT NULL,
	"dimension" text,
	"value" text DEFAULT '' NOT NULL,
	CONSTRAINT "feed_document_workspace_id_connection_id_number_pk" PRIMARY KEY("workspace_id","connection_id","number")
);
--> statement-breakpoint
ALTER TABLE "connection" ADD CONSTRAINT "connection_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "connection" ADD CONSTRAINT "connection_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "connection_run" ADD CONSTRAINT "connection_run_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "connection_run" ADD CONSTRAINT "connection_run_workspace_id_connection_id_connection_workspace_id_id_fk" FOREIGN KEY ("workspace_id","connection_id") REFERENCES "public"."connection"("workspace_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "feed_document" ADD CONSTRAINT "feed_document_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "feed_document" ADD CONSTRAINT "feed_document_workspace_id_connection_id_connection_workspace_id_id_fk" FOREIGN KEY ("workspace_id","connection_id") REFERENCES "public"."connection"("workspace_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "connection_next_run_at_index" ON "connection" USING btree ("next_run_at");--> statement-breakpoint
CREATE INDEX "connection_run_workspace_id_connection_id_id_index" ON "connection_run" USING btree ("workspace_id","connection_id","id");