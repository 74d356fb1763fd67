CREATE TABLE "relay_positions" (
	"workspace" text PRIMARY KEY NOT NULL,
	"until" timestamp with time zone NOT NULL
);
--> statement-breakpoint
INSERT INTO "relay_positions" ("workspace", "until") SELECT 'main', "segment"::timestamptz FROM "drain_positions" WHERE "journal" = 'relay';--> statement-breakpoint
DELETE FROM "drain_positions" WHERE "journal" = 'relay';--> statement-breakpoint
ALTER TABLE "drain_positions" DROP CONSTRAINT "drain_positions_pkey";--> statement-breakpoint
ALTER TABLE "drain_positions" ADD CONSTRAINT "drain_positions_journal_segment_pk" PRIMARY KEY("journal","segment");--> statement-breakpoint
ALTER TABLE "secrets" ADD COLUMN "until" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "workspaces" ADD COLUMN "routing" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX "orders_by_arrival" ON "orders" USING btree ("workspace","arrived_at");--> statement-breakpoint
CREATE INDEX "postbacks_by_deal" ON "postbacks" USING btree ("workspace","partner","deal");
