CREATE INDEX "clicks_by_arrival" ON "clicks" USING btree ("workspace","arrived_at");--> statement-breakpoint
CREATE INDEX "orders_by_time" ON "orders" USING btree ("workspace","ordered_at");