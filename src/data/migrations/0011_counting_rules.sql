UPDATE "network_profiles" p SET "profile" = p."profile" || jsonb_strip_nulls(jsonb_build_object('click_window_days', n.rules->'click_window_days', 'view_window_days', n.rules->'view_window_days', 'dated_by', n.rules->'dated_by', 'time_zone', n.rules->'time_zone')) FROM "workspaces" w, jsonb_array_elements(CASE jsonb_typeof(w."settings"->'networks') WHEN 'array' THEN w."settings"->'networks' ELSE '[]' END) AS n(rules) WHERE p."workspace" = w."id" AND p."id" = n.rules->>'id';--> statement-breakpoint
UPDATE "workspaces" SET "settings" = "settings" - 'count_views' || '{"view_window_days": 90}' WHERE "settings"->>'count_views' = 'true';--> statement-breakpoint
UPDATE "results" SET "definition" = "definition" - 'credit' - 'view_window_days' - CASE "id" WHEN 'order' THEN 'click_window_days' ELSE '' END;
--> statement-breakpoint
UPDATE "delivery" SET "segment" = to_json(string_to_array("segment", chr(31)))::text WHERE position(chr(31) in "segment") > 0;
--> statement-breakpoint
UPDATE "network_profiles" SET "profile" = replace(replace("profile"::text, '"final_address"', '"landing"'), '"address_suffix"', '"extra_parameters"')::jsonb WHERE "profile"::text LIKE '%"final_address"%';
