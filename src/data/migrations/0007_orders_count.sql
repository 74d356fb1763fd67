-- Orders counted before results were defined: workspaces of that time go on so.
INSERT INTO "results" ("workspace", "id", "definition")
SELECT "id", 'order', jsonb_build_object(
  'id', 'order', 'name', 'Order', 'kind', 'order', 'currency', coalesce("settings"->>'currency', 'EUR'),
  'value', jsonb_build_object('by', 'event'), 'count', 'every', 'click_window_days', 30,
  'view_window_days', 1, 'credit', coalesce("settings"->>'credit', 'last_click'))
FROM "workspaces" ON CONFLICT DO NOTHING;
