INSERT INTO "combination" ("workspace_id", "members")
SELECT DISTINCT "workspace_id", "members" FROM (
	SELECT "workspace_id", "members" FROM "staged_line" UNION SELECT "workspace_id", "members" FROM "set_aside_line"
) waiting ON CONFLICT DO NOTHING;--> statement-breakpoint
INSERT INTO "sales_line" ("workspace_id", "batch_id", "row", "date", "combination_id", "quantity", "net_amount", "cost", "document", "line_number", "customer", "seller", "origin")
SELECT w."workspace_id", w."batch_id", w."row", w."date", c."id", w."quantity", w."net_amount", w."cost", w."document", w."line_number", w."customer", w."seller", 'books'
FROM (SELECT * FROM "staged_line" UNION ALL SELECT * FROM "set_aside_line") w
JOIN "combination" c ON c."workspace_id" = w."workspace_id" AND c."members" = w."members";--> statement-breakpoint
INSERT INTO "import_month" ("workspace_id", "batch_id", "month", "combination_id", "quantity", "net_amount", "cost", "lines")
SELECT "workspace_id", "batch_id", date_trunc('month', "date")::date, "combination_id", sum("quantity"), sum("net_amount"), sum("cost"), count(*)
FROM "sales_line" GROUP BY 1, 2, 3, 4;--> statement-breakpoint
INSERT INTO "import_row" ("workspace_id", "batch_id", "row", "part", "taken", "cells", "problems")
SELECT "workspace_id", "batch_id", "row", -1, false, '[]'::jsonb,
	jsonb_agg(jsonb_build_object('row', "row", 'field', "field", 'value', "value", 'code', "code", 'message', "message"))
FROM "import_problem" GROUP BY 1, 2, 3;--> statement-breakpoint
ALTER TABLE "import_problem" DISABLE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE "set_aside_line" DISABLE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE "staged_line" DISABLE ROW LEVEL SECURITY;--> statement-breakpoint
DROP TABLE "import_problem" CASCADE;--> statement-breakpoint
DROP TABLE "set_aside_line" CASCADE;--> statement-breakpoint
DROP TABLE "staged_line" CASCADE;--> statement-breakpoint
ALTER TABLE "sales_line" ALTER COLUMN "row" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "sales_line" DROP COLUMN "id";