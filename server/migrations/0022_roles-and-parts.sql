CREATE TABLE "held_part" (
	"workspace_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"node_id" integer NOT NULL,
	CONSTRAINT "held_part_workspace_id_person_id_node_id_pk" PRIMARY KEY("workspace_id","person_id","node_id")
);
--> statement-breakpoint
ALTER TABLE "held_part" ADD CONSTRAINT "held_part_workspace_id_person_id_membership_workspace_id_person_id_fk" FOREIGN KEY ("workspace_id","person_id") REFERENCES "public"."membership"("workspace_id","person_id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
-- Whoever has planned in a workspace for longest owns it from now on.
UPDATE "membership" m SET "role" = 'owner' WHERE m."role" = 'planner' AND m."person_id" = (
	SELECT min(f."person_id") FROM "membership" f
	WHERE f."workspace_id" = m."workspace_id" AND f."role" = 'planner');