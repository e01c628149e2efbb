-- Views of before showed the forecast by one dimension in stretches of time.
UPDATE "saved_view" SET "query" = "query" || jsonb_build_object('of', 'forecast', 'columns', 'time', 'rows', jsonb_build_array("query"->>'rows'))
WHERE NOT "query" ? 'of';
