CREATE TABLE "combination" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "combination_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"members" integer[] DEFAULT '{}' NOT NULL,
	CONSTRAINT "combination_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "combination_workspaceId_members_unique" UNIQUE("workspace_id","members")
);
--> statement-breakpoint
CREATE TABLE "dimension" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "dimension_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"position" smallint NOT NULL,
	CONSTRAINT "dimension_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "dimension_workspaceId_code_unique" UNIQUE("workspace_id","code"),
	CONSTRAINT "dimension_workspaceId_position_unique" UNIQUE("workspace_id","position")
);
--> statement-breakpoint
CREATE TABLE "member" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "member_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"dimension_id" integer NOT NULL,
	"code" text NOT NULL,
	"name" text NOT NULL,
	"parent_id" integer,
	"position" integer NOT NULL,
	CONSTRAINT "member_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "member_workspaceId_dimensionId_code_unique" UNIQUE("workspace_id","dimension_id","code")
);
--> statement-breakpoint
CREATE TABLE "membership" (
	"workspace_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"role" text NOT NULL,
	CONSTRAINT "membership_workspace_id_person_id_pk" PRIMARY KEY("workspace_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "person" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"email" text NOT NULL,
	"name" text NOT NULL,
	"password_hash" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "person_email_unique" UNIQUE("email")
);
--> statement-breakpoint
CREATE TABLE "session" (
	"sid" varchar PRIMARY KEY NOT NULL,
	"sess" json NOT NULL,
	"expire" timestamp (6) NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sign_in_throttle" (
	"key" varchar(255) PRIMARY KEY NOT NULL,
	"points" integer DEFAULT 0 NOT NULL,
	"expire" bigint
);
--> statement-breakpoint
CREATE TABLE "workspace" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "workspace_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"locale" text NOT NULL,
	"currency_code" text NOT NULL,
	"minor_digits" smallint NOT NULL,
	"first_month" date NOT NULL,
	"last_month" date NOT NULL,
	"closed_through" date NOT NULL,
	"as_of" date NOT NULL,
	"fiscal_start" smallint NOT NULL,
	"revision" bigint DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "import_batch" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "import_batch_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"file_name" text NOT NULL,
	"state" text NOT NULL,
	"rows" integer NOT NULL,
	"good" integer NOT NULL,
	"faulty" integer NOT NULL,
	"created_by" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"applied_at" timestamp with time zone,
	CONSTRAINT "import_batch_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
CREATE TABLE "import_problem" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"row" integer NOT NULL,
	"field" text NOT NULL,
	"value" text NOT NULL,
	"code" text NOT NULL,
	"message" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sales_line" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"date" date NOT NULL,
	"quantity" numeric(18, 3) NOT NULL,
	"net_amount" bigint NOT NULL,
	"cost" bigint NOT NULL,
	"document" text NOT NULL,
	"line_number" integer NOT NULL,
	"customer" text,
	"seller" text,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "sales_line_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"combination_id" integer NOT NULL,
	"origin" text NOT NULL,
	CONSTRAINT "sales_line_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "sales_line_workspaceId_document_lineNumber_unique" UNIQUE("workspace_id","document","line_number")
);
--> statement-breakpoint
CREATE TABLE "sales_month" (
	"workspace_id" integer NOT NULL,
	"month" date NOT NULL,
	"combination_id" integer NOT NULL,
	"origin" text NOT NULL,
	"quantity" numeric(18, 3) NOT NULL,
	"net_amount" bigint NOT NULL,
	"cost" bigint NOT NULL,
	"lines" integer NOT NULL,
	CONSTRAINT "sales_month_workspace_id_month_combination_id_origin_pk" PRIMARY KEY("workspace_id","month","combination_id","origin")
);
--> statement-breakpoint
CREATE TABLE "staged_line" (
	"workspace_id" integer NOT NULL,
	"batch_id" integer NOT NULL,
	"date" date NOT NULL,
	"quantity" numeric(18, 3) NOT NULL,
	"net_amount" bigint NOT NULL,
	"cost" bigint NOT NULL,
	"document" text NOT NULL,
	"line_number" integer NOT NULL,
	"customer" text,
	"seller" text,
	"row" integer NOT NULL,
	"members" integer[] NOT NULL
);
--> statement-breakpoint
CREATE TABLE "assumption" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "assumption_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"driver" text NOT NULL,
	"scope" integer[] NOT NULL,
	"from_month" date,
	"to_month" date,
	"profile" jsonb NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"changed_by" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "assumption_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
CREATE TABLE "stream" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "stream_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"combination_id" integer NOT NULL,
	"method" text NOT NULL,
	CONSTRAINT "stream_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "stream_workspaceId_combinationId_unique" UNIQUE("workspace_id","combination_id")
);
--> statement-breakpoint
CREATE TABLE "version" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "version_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"from_month" date NOT NULL,
	"to_month" date NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"created_by" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "version_workspace_id_id_pk" PRIMARY KEY("workspace_id","id"),
	CONSTRAINT "version_workspaceId_name_unique" UNIQUE("workspace_id","name")
);
--> statement-breakpoint
CREATE TABLE "version_cell" (
	"workspace_id" integer NOT NULL,
	"version_id" integer NOT NULL,
	"combination_id" integer NOT NULL,
	"month" date NOT NULL,
	"units" numeric(18, 3) NOT NULL,
	"revenue" bigint NOT NULL,
	"cost" bigint,
	CONSTRAINT "version_cell_workspace_id_version_id_combination_id_month_pk" PRIMARY KEY("workspace_id","version_id","combination_id","month")
);
--> statement-breakpoint
CREATE TABLE "target_node" (
	"workspace_id" integer NOT NULL,
	"id" integer GENERATED ALWAYS AS IDENTITY (sequence name "target_node_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"fiscal_year" smallint NOT NULL,
	"parent_id" integer,
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"position" integer NOT NULL,
	"scope" integer[] NOT NULL,
	"seller" text,
	"percent" numeric(12, 6),
	"amount" bigint,
	CONSTRAINT "target_node_workspace_id_id_pk" PRIMARY KEY("workspace_id","id")
);
--> statement-breakpoint
ALTER TABLE "combination" ADD CONSTRAINT "combination_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dimension" ADD CONSTRAINT "dimension_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "member" ADD CONSTRAINT "member_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "member" ADD CONSTRAINT "member_workspace_id_dimension_id_dimension_workspace_id_id_fk" FOREIGN KEY ("workspace_id","dimension_id") REFERENCES "public"."dimension"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "member" ADD CONSTRAINT "member_workspace_id_parent_id_member_workspace_id_id_fk" FOREIGN KEY ("workspace_id","parent_id") REFERENCES "public"."member"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_batch" ADD CONSTRAINT "import_batch_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_batch" ADD CONSTRAINT "import_batch_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_problem" ADD CONSTRAINT "import_problem_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_problem" ADD CONSTRAINT "import_problem_workspace_id_batch_id_import_batch_workspace_id_id_fk" FOREIGN KEY ("workspace_id","batch_id") REFERENCES "public"."import_batch"("workspace_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_line" ADD CONSTRAINT "sales_line_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_line" ADD CONSTRAINT "sales_line_workspace_id_combination_id_combination_workspace_id_id_fk" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_line" ADD CONSTRAINT "sales_line_workspace_id_batch_id_import_batch_workspace_id_id_fk" FOREIGN KEY ("workspace_id","batch_id") REFERENCES "public"."import_batch"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_month" ADD CONSTRAINT "sales_month_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_month" ADD CONSTRAINT "sales_month_workspace_id_combination_id_combination_workspace_id_id_fk" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "staged_line" ADD CONSTRAINT "staged_line_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "assumption" ADD CONSTRAINT "assumption_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "assumption" ADD CONSTRAINT "assumption_changed_by_person_id_fk" FOREIGN KEY ("changed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stream" ADD CONSTRAINT "stream_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stream" ADD CONSTRAINT "stream_workspace_id_combination_id_combination_workspace_id_id_fk" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version" ADD CONSTRAINT "version_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version" ADD CONSTRAINT "version_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_cell" ADD CONSTRAINT "version_cell_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_cell" ADD CONSTRAINT "version_cell_workspace_id_version_id_version_workspace_id_id_fk" FOREIGN KEY ("workspace_id","version_id") REFERENCES "public"."version"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_cell" ADD CONSTRAINT "version_cell_workspace_id_combination_id_combination_workspace_id_id_fk" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "target_node" ADD CONSTRAINT "target_node_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "target_node" ADD CONSTRAINT "target_node_workspace_id_parent_id_target_node_workspace_id_id_fk" FOREIGN KEY ("workspace_id","parent_id") REFERENCES "public"."target_node"("workspace_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "session_expire_index" ON "session" USING btree ("expire");--> statement-breakpoint
CREATE INDEX "import_problem_workspace_id_batch_id_row_index" ON "import_problem" USING btree ("workspace_id","batch_id","row");--> statement-breakpoint
CREATE INDEX "sales_line_workspace_id_seller_date_index" ON "sales_line" USING btree ("workspace_id","seller","date");--> statement-breakpoint
CREATE INDEX "staged_line_workspace_id_batch_id_index" ON "staged_line" USING btree ("workspace_id","batch_id");--> statement-breakpoint
CREATE INDEX "assumption_workspace_id_driver_index" ON "assumption" USING btree ("workspace_id","driver");--> statement-breakpoint
CREATE INDEX "target_node_workspace_id_fiscal_year_index" ON "target_node" USING btree ("workspace_id","fiscal_year");--> statement-breakpoint
CREATE UNIQUE INDEX "one_objective_a_year" ON "target_node" USING btree ("workspace_id","fiscal_year") WHERE parent_id is null;