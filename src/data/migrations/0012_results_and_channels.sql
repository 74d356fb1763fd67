ALTER TABLE "orders" ADD COLUMN "channel" text;--> statement-breakpoint
ALTER TABLE "workspaces" ADD COLUMN "shown" bigint DEFAULT 0 NOT NULL;