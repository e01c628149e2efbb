ALTER TABLE "import_month" ADD COLUMN "returned" numeric(18, 3) DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "sales_month" ADD COLUMN "returned" numeric(18, 3) DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "driver" ADD COLUMN "history" jsonb;--> statement-breakpoint
UPDATE "import_month" m SET "returned" = s.returned FROM (
  SELECT workspace_id, batch_id, date_trunc('month', date)::date AS month, combination_id,
    sum(-quantity) AS returned
  FROM "sales_line" WHERE quantity < 0 GROUP BY 1, 2, 3, 4) s
WHERE m.workspace_id = s.workspace_id AND m.batch_id = s.batch_id AND m.month = s.month
  AND m.combination_id = s.combination_id;--> statement-breakpoint
UPDATE "sales_month" m SET "returned" = s.returned FROM (
  SELECT l.workspace_id, date_trunc('month', l.date)::date AS month, l.combination_id, l.origin,
    sum(-l.quantity) AS returned
  FROM "sales_line" l JOIN "import_batch" b
    ON b.workspace_id = l.workspace_id AND b.id = l.batch_id AND b.state = 'applied'
  WHERE l.quantity < 0 GROUP BY 1, 2, 3, 4) s
WHERE m.workspace_id = s.workspace_id AND m.month = s.month
  AND m.combination_id = s.combination_id AND m.origin = s.origin;
