CREATE TABLE "dimension_rule" (
	"workspace_id" integer NOT NULL,
	"dimension_id" integer NOT NULL,
	"source_member_id" integer NOT NULL,
	"member_id" integer NOT NULL,
	CONSTRAINT "dimension_rule_workspace_id_dimension_id_source_member_id_pk" PRIMARY KEY("workspace_id","dimension_id","source_member_id")
);
--> statement-breakpoint
ALTER TABLE "dimension_rule" ADD CONSTRAINT "dimension_rule_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dimension_rule" ADD CONSTRAINT "dimension_rule_workspace_id_member_id_member_workspace_id_id_fk" FOREIGN KEY ("workspace_id","member_id") REFERENCES "public"."member"("workspace_id","id") ON DELETE cascade ON UPDATE no action;