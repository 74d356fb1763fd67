DROP TABLE "rejects" CASCADE;--> statement-breakpoint
ALTER TABLE "import_batches" ADD COLUMN "network" text;--> statement-breakpoint
ALTER TABLE "import_batches" ADD COLUMN "cancelled" boolean DEFAULT false NOT NULL;