CREATE TABLE "import_job" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"state" text NOT NULL,
	"step" integer DEFAULT 0 NOT NULL,
	"steps" integer DEFAULT 1 NOT NULL,
	"message" text DEFAULT '' NOT NULL,
	"stop" boolean DEFAULT false NOT NULL,
	"backend" integer,
	"requested_by" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "import_job_workspace_id_batch_id_pk" PRIMARY KEY("workspace_id","batch_id")
);
--> statement-breakpoint
CREATE TABLE "import_mapping" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "import_mapping_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"header" jsonb NOT NULL,
	"reading" jsonb NOT NULL,
	CONSTRAINT "import_mapping_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "import_mapping_workspaceId_name_unique" UNIQUE("workspace_id","name")
);
--> statement-breakpoint
CREATE TABLE "import_month" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"month" date NOT NULL,
	"combination_id" integer NOT NULL,
	"quantity" numeric(18, 3) NOT NULL,
	"net_amount" bigint NOT NULL,
	"cost" bigint NOT NULL,
	"lines" integer NOT NULL,
	CONSTRAINT "import_month_workspace_id_batch_id_month_combination_id_pk" PRIMARY KEY("workspace_id","batch_id","month","combination_id")
);
--> statement-breakpoint
CREATE TABLE "import_row" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"row" integer NOT NULL,
	"part" integer NOT NULL,
	"taken" boolean NOT NULL,
	"cells" jsonb NOT NULL,
	"problems" jsonb NOT NULL,
	CONSTRAINT "import_row_workspace_id_batch_id_row_part_pk" PRIMARY KEY("workspace_id","batch_id","row","part")
);
--> statement-breakpoint
CREATE TABLE "remembered_repair" (
	"workspace_id" integer NOT NULL,
	"kind" text NOT NULL,
	"field" text NOT NULL,
	"from" text NOT NULL,
	"to" text NOT NULL,
	CONSTRAINT "remembered_repair_workspace_id_kind_field_from_pk" PRIMARY KEY("workspace_id","kind","field","from")
);
--> statement-breakpoint
ALTER TABLE "sales_line" DROP CONSTRAINT "sales_line_workspaceId_document_lineNumber_unique";--> statement-breakpoint
ALTER TABLE "sales_line" DROP CONSTRAINT "sales_line_workspace_id_workspace_id_fk";
--> statement-breakpoint
ALTER TABLE "sales_line" DROP CONSTRAINT "sales_line_workspace_id_combination_id_combination_workspace_id_id_fk";
--> statement-breakpoint
ALTER TABLE "sales_line" DROP CONSTRAINT "sales_line_workspace_id_batch_id_import_batch_workspace_id_id_fk";
--> statement-breakpoint
DROP INDEX "sales_line_workspace_id_combination_id_date_index";--> statement-breakpoint
DROP INDEX "sales_line_workspace_id_batch_id_index";--> statement-breakpoint
DROP INDEX "sales_line_workspace_id_seller_date_index";--> statement-breakpoint
ALTER TABLE "sales_line" DROP CONSTRAINT "sales_line_workspace_id_id_pk";--> statement-breakpoint
ALTER TABLE "import_batch" ADD COLUMN "kind" text DEFAULT 'sales' NOT NULL;--> statement-breakpoint
ALTER TABLE "import_batch" ADD COLUMN "source" text DEFAULT 'file' NOT NULL;--> statement-breakpoint
ALTER TABLE "import_batch" ADD COLUMN "reading" jsonb;--> statement-breakpoint
ALTER TABLE "import_batch" ADD COLUMN "notes" jsonb;--> statement-breakpoint
ALTER TABLE "import_batch" ADD COLUMN "replace" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "import_batch" ADD COLUMN "fingerprint" text;--> statement-breakpoint
ALTER TABLE "sales_line" ADD COLUMN "row" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "sales_line" ADD COLUMN "note" text;--> statement-breakpoint
ALTER TABLE "import_job" ADD CONSTRAINT "import_job_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_job" ADD CONSTRAINT "import_job_requested_by_person_id_fk" FOREIGN KEY ("requested_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_mapping" ADD CONSTRAINT "import_mapping_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_month" ADD CONSTRAINT "import_month_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_month" ADD CONSTRAINT "import_month_workspace_id_batch_id_import_batch_workspace_id_id_fk" FOREIGN KEY ("workspace_id","batch_id") REFERENCES "public"."import_batch"("workspace_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_row" ADD CONSTRAINT "import_row_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_row" ADD CONSTRAINT "import_row_workspace_id_batch_id_import_batch_workspace_id_id_fk" FOREIGN KEY ("workspace_id","batch_id") REFERENCES "public"."import_batch"("workspace_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "remembered_repair" ADD CONSTRAINT "remembered_repair_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "import_batch_workspace_id_fingerprint_index" ON "import_batch" USING btree ("workspace_id","fingerprint");--> statement-breakpoint
CREATE INDEX "sales_line_workspace_id_document_line_number_index" ON "sales_line" USING btree ("workspace_id","document","line_number");--> statement-breakpoint
CREATE INDEX "sales_line_batch_id_date_index" ON "sales_line" USING brin ("batch_id","date") WITH (autosummarize=true);--> statement-breakpoint
CREATE INDEX "sales_line_workspace_id_seller_date_index" ON "sales_line" USING btree ("workspace_id","seller","date") WHERE seller is not null;