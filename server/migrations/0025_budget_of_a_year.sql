ALTER TABLE "version" ADD COLUMN "budget_of" integer;--> statement-breakpoint
ALTER TABLE "version" ADD COLUMN "put_away" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "one_budget_a_year" ON "version" USING btree ("workspace_id","budget_of") WHERE not removed and budget_of is not null;