CREATE TABLE "driver" (
	"workspace_id" integer NOT NULL,
	"code" text NOT NULL,
	"position" integer NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"unit" text NOT NULL,
	"minimum" numeric,
	"maximum" numeric,
	"step" numeric,
	"default" numeric,
	"choices" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"formula" text,
	CONSTRAINT "driver_workspace_id_code_pk" PRIMARY KEY("workspace_id","code")
);
--> statement-breakpoint
CREATE TABLE "forecast_override" (
	"workspace_id" integer NOT NULL,
	"combination_id" integer NOT NULL,
	"month" date NOT NULL,
	"measure" text NOT NULL,
	"value" numeric NOT NULL,
	"why" text DEFAULT '' NOT NULL,
	"typed_by" integer NOT NULL,
	"typed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "forecast_override_workspace_id_combination_id_month_measure_pk" PRIMARY KEY("workspace_id","combination_id","month","measure")
);
--> statement-breakpoint
ALTER TABLE "stream" ADD COLUMN "settings" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "driver" ADD CONSTRAINT "driver_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "forecast_override" ADD CONSTRAINT "forecast_override_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "forecast_override" ADD CONSTRAINT "forecast_override_typed_by_person_id_fk" FOREIGN KEY ("typed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "forecast_override" ADD CONSTRAINT "forecast_override_workspace_id_combination_id_combination_workspace_id_id_fk" FOREIGN KEY ("workspace_id","combination_id") REFERENCES "public"."combination"("workspace_id","id") ON DELETE no action ON UPDATE no action;