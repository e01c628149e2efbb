CREATE TABLE "seller_month" (
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
	CONSTRAINT "seller_month_workspace_id_batch_id_month_combination_id_seller_pk" PRIMARY KEY("workspace_id","batch_id","month","combination_id","seller")
);
--> statement-breakpoint
ALTER TABLE "seller_month" ADD CONSTRAINT "seller_month_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seller_month" ADD CONSTRAINT "seller_month_workspace_id_batch_id_import_batch_workspace_id_id_fk" FOREIGN KEY ("workspace_id","batch_id") REFERENCES "public"."import_batch"("workspace_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
INSERT INTO "seller_month" ("workspace_id", "batch_id", "month", "combination_id", "seller", "quantity", "net_amount", "cost", "returned", "lines")
SELECT "workspace_id", "batch_id", date_trunc('month', "date")::date, "combination_id", "seller",
	sum("quantity"), sum("net_amount"), sum("cost"), sum(greatest(0, -"quantity")), count(*)
FROM "sales_line" WHERE "seller" IS NOT NULL GROUP BY 1, 2, 3, 4, 5;
