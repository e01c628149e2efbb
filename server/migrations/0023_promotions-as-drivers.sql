-- A promotion is a driver by the month of the start; it was a setting of the whole line.
INSERT INTO "assumption" ("workspace_id", "driver", "scope", "note", "changed_by", "profile")
SELECT s."workspace_id", d."code", c."members", 'Promotion, as it was set under Methods',
  (SELECT m."person_id" FROM "membership" m WHERE m."workspace_id" = s."workspace_id"
    ORDER BY m."role" = 'owner' DESC, m."person_id" LIMIT 1),
  jsonb_build_object('kind', 'value', 'value', s."settings" #> ARRAY['subscription', 'promotion', d."from"])
FROM "stream" s
  JOIN "combination" c ON c."workspace_id" = s."workspace_id" AND c."id" = s."combination_id"
  CROSS JOIN (VALUES ('promotionMonths', 'months'), ('promotionOff', 'off')) AS d("code", "from")
WHERE s."settings" #> '{subscription,promotion}' IS NOT NULL;--> statement-breakpoint
UPDATE "stream" SET "settings" = "settings" #- '{subscription,promotion}'
WHERE "settings" #> '{subscription,promotion}' IS NOT NULL;
