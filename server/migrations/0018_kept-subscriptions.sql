CREATE TABLE "version_subscription" (
	"workspace_id" integer NOT NULL,
	"version_id" integer NOT NULL,
	"combination_id" integer NOT NULL,
	"month" date NOT NULL,
	"active" double precision NOT NULL,
	"opening" double precision NOT NULL,
	"starters" double precision NOT NULL,
	"lost" double precision NOT NULL,
	"changed_in" double precision NOT NULL,
	"changed_out" double precision NOT NULL,
	"recurring" double precision NOT NULL,
	"revenue_opening" double precision NOT NULL,
	"entered" double precision NOT NULL,
	"price_change" double precision NOT NULL,
	"revenue_lost" double precision NOT NULL,
	"expansion" double precision NOT NULL,
	"contraction" double precision NOT NULL,
	"revenue_in" double precision NOT NULL,
	"revenue_out" double precision NOT NULL,
	CONSTRAINT "version_subscription_workspace_id_version_id_combination_id_month_pk" PRIMARY KEY("workspace_id","version_id","combination_id","month")
);
--> statement-breakpoint
ALTER TABLE "version_subscription" ADD CONSTRAINT "version_subscription_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_subscription" ADD CONSTRAINT "version_subscription_workspace_id_version_id_version_workspace_id_id_fk" FOREIGN KEY ("workspace_id","version_id") REFERENCES "public"."version"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_subscription" ADD CONSTRAINT "version_subscription_workspace_id_combination_id_combination_workspace_id_id_fk" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;