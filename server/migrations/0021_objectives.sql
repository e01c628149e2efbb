CREATE TABLE "account_month" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"month" date NOT NULL,
	"combination_id" integer NOT NULL,
	"quantity" numeric(18, 3) NOT NULL,
	"net_amount" bigint NOT NULL,
	"cost" bigint NOT NULL,
	"returned" numeric(18, 3) DEFAULT '0' NOT NULL,
	"lines" integer NOT NULL,
	"seller" text NOT NULL,
	"customer" text NOT NULL,
	CONSTRAINT "account_month_workspace_id_batch_id_month_combination_id_seller_customer_pk" PRIMARY KEY("workspace_id","batch_id","month","combination_id","seller","customer")
);
--> statement-breakpoint
DROP INDEX "one_objective_a_year";--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "account" text;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "objective" text;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "measure" text;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "manager" text;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "from_month" date;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "ramp" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "full_capacity" bigint;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "cushion" numeric(6, 3) DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "locked" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "months" jsonb;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "state" text DEFAULT 'draft' NOT NULL;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "comment" text;--> statement-breakpoint
ALTER TABLE "target_node" ADD COLUMN "deals" jsonb;--> statement-breakpoint
ALTER TABLE "account_month" ADD CONSTRAINT "account_month_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "account_month" ADD CONSTRAINT "account_month_workspace_id_batch_id_import_batch_workspace_id_id_fk" FOREIGN KEY ("workspace_id","batch_id") REFERENCES "public"."import_batch"("workspace_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "account_month_workspace_id_customer_index" ON "account_month" USING btree ("workspace_id","customer");--> statement-breakpoint
UPDATE "target_node" SET "objective" = 'Revenue', "measure" = 'revenue' WHERE "parent_id" IS NULL;--> statement-breakpoint
INSERT INTO "account_month" ("workspace_id", "batch_id", "month", "combination_id", "seller", "customer", "quantity", "net_amount", "cost", "returned", "lines")
SELECT "workspace_id", "batch_id", date_trunc('month', "date")::date, "combination_id", "seller", "customer",
	sum("quantity"), sum("net_amount"), sum("cost"), sum(greatest(0, -"quantity")), count(*)
FROM "sales_line" WHERE "seller" IS NOT NULL AND "customer" IS NOT NULL GROUP BY 1, 2, 3, 4, 5, 6;--> statement-breakpoint
CREATE UNIQUE INDEX "objective_name" ON "target_node" USING btree ("workspace_id","fiscal_year",lower(objective)) WHERE parent_id is null;