ALTER TABLE "claim_rows" ADD COLUMN "revision" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "clicks" ADD COLUMN "revision" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "events" ADD COLUMN "revision" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "orders" ADD COLUMN "revision" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "workspaces" ADD COLUMN "changed" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
CREATE INDEX "claim_rows_by_revision" ON "claim_rows" USING btree ("workspace","revision");--> statement-breakpoint
CREATE INDEX "clicks_by_revision" ON "clicks" USING btree ("workspace","revision");--> statement-breakpoint
CREATE INDEX "clicks_by_id" ON "clicks" USING btree ("workspace","click_id");--> statement-breakpoint
CREATE INDEX "clicks_by_visitor" ON "clicks" USING btree ("workspace","visitor_id") WHERE "clicks"."visitor_id" is not null;--> statement-breakpoint
CREATE INDEX "clicks_by_network_id" ON "clicks" USING btree ("workspace","network_click_id") WHERE "clicks"."network_click_id" is not null;--> statement-breakpoint
CREATE INDEX "told_results" ON "events" USING btree ("workspace","revision") WHERE "events"."attributes" ? 'rule';--> statement-breakpoint
CREATE INDEX "orders_by_revision" ON "orders" USING btree ("workspace","revision");