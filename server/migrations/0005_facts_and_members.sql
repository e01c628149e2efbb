CREATE TABLE "assignment" (
	"workspace_id" integer NOT NULL,
	"dimension_id" integer NOT NULL,
	"customer" text NOT NULL,
	"from" date NOT NULL,
	"member_id" integer NOT NULL,
	CONSTRAINT "assignment_workspace_id_dimension_id_customer_from_pk" PRIMARY KEY("workspace_id","dimension_id","customer","from")
);
--> statement-breakpoint
CREATE TABLE "fact_measure" (
	"workspace_id" integer NOT NULL,
	"code" text NOT NULL,
	"name" text NOT NULL,
	"unit" text DEFAULT '' NOT NULL,
	"nature" text NOT NULL,
	CONSTRAINT "fact_measure_workspace_id_code_pk" PRIMARY KEY("workspace_id","code")
);
--> statement-breakpoint
CREATE TABLE "ledger_account" (
	"workspace_id" integer NOT NULL,
	"code" text NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"behaviour" text,
	CONSTRAINT "ledger_account_workspace_id_code_pk" PRIMARY KEY("workspace_id","code")
);
--> statement-breakpoint
CREATE TABLE "ledger_amount" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"row" integer NOT NULL,
	"account" text NOT NULL,
	"name" text NOT NULL,
	"kind" text,
	"month" date NOT NULL,
	"amount" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "observation" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"row" integer NOT NULL,
	"measure" text NOT NULL,
	"members" integer[] NOT NULL,
	"month" date NOT NULL,
	"value" numeric(20, 6) NOT NULL
);
--> statement-breakpoint
CREATE TABLE "subscriber" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"row" integer NOT NULL,
	"code" text NOT NULL,
	"members" integer[] NOT NULL,
	"start" date NOT NULL,
	"end" date
);
--> statement-breakpoint
ALTER TABLE "member" ADD COLUMN "valid_from" date;--> statement-breakpoint
ALTER TABLE "member" ADD COLUMN "valid_to" date;--> statement-breakpoint
ALTER TABLE "member" ADD COLUMN "account" text;--> statement-breakpoint
ALTER TABLE "assignment" ADD CONSTRAINT "assignment_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "assignment" ADD CONSTRAINT "assignment_workspace_id_member_id_member_workspace_id_id_fk" FOREIGN KEY ("workspace_id","member_id") REFERENCES "public"."member"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fact_measure" ADD CONSTRAINT "fact_measure_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger_account" ADD CONSTRAINT "ledger_account_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "ledger_amount_workspace_id_batch_id_index" ON "ledger_amount" USING btree ("workspace_id","batch_id");--> statement-breakpoint
CREATE INDEX "ledger_amount_workspace_id_account_month_index" ON "ledger_amount" USING btree ("workspace_id","account","month");--> statement-breakpoint
CREATE INDEX "observation_workspace_id_batch_id_index" ON "observation" USING btree ("workspace_id","batch_id");--> statement-breakpoint
CREATE INDEX "observation_workspace_id_measure_month_index" ON "observation" USING btree ("workspace_id","measure","month");--> statement-breakpoint
CREATE INDEX "subscriber_workspace_id_batch_id_index" ON "subscriber" USING btree ("workspace_id","batch_id");--> statement-breakpoint
CREATE INDEX "subscriber_workspace_id_code_index" ON "subscriber" USING btree ("workspace_id","code");