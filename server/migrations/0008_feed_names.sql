CREATE TABLE "feed_name" (
	"workspace_id" integer NOT NULL,
	"connection_id" integer NOT NULL,
	"kind" text NOT NULL,
	"code" text NOT NULL,
	"name" text NOT NULL,
	"group" text DEFAULT '' NOT NULL,
	"since" text DEFAULT '' NOT NULL,
	CONSTRAINT "feed_name_workspace_id_connection_id_kind_code_pk" PRIMARY KEY("workspace_id","connection_id","kind","code")
);
--> statement-breakpoint
ALTER TABLE "connection" ADD COLUMN "item_cursor" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "connection" ADD COLUMN "customer_cursor" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "connection" ADD COLUMN "fields" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "feed_name" ADD CONSTRAINT "feed_name_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "feed_name" ADD CONSTRAINT "feed_name_workspace_id_connection_id_connection_workspace_id_id_fk" FOREIGN KEY ("workspace_id","connection_id") REFERENCES "public"."connection"("workspace_id","id") ON DELETE cascade ON UPDATE no action;