CREATE TABLE "import_log" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "import_log_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"workspace" text NOT NULL,
	"batch" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"table_name" text NOT NULL,
	"keys" jsonb NOT NULL,
	"rows" jsonb NOT NULL,
	"revision" bigint
);
--> statement-breakpoint
ALTER TABLE "import_batches" ADD COLUMN "undone_at" timestamp with time zone;--> statement-breakpoint
CREATE INDEX "import_log_by_batch" ON "import_log" USING btree ("workspace","batch");