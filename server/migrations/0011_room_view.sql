CREATE TABLE "room_view" (
	"workspace_id" integer NOT NULL,
	"name" text NOT NULL,
	"room" text NOT NULL,
	"address" text NOT NULL,
	"kept_by" integer NOT NULL,
	"kept_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "room_view_workspace_id_name_pk" PRIMARY KEY("workspace_id","name")
);
--> statement-breakpoint
ALTER TABLE "room_view" ADD CONSTRAINT "room_view_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "room_view" ADD CONSTRAINT "room_view_kept_by_person_id_fk" FOREIGN KEY ("kept_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;