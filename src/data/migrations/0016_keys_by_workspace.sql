ALTER TABLE "partners" DROP CONSTRAINT "partners_code_unique";--> statement-breakpoint
ALTER TABLE "routes" DROP CONSTRAINT "routes_code_unique";--> statement-breakpoint
ALTER TABLE "drain_positions" DROP CONSTRAINT "drain_positions_journal_segment_pk";--> statement-breakpoint
ALTER TABLE "sites" DROP CONSTRAINT "sites_pkey";--> statement-breakpoint
ALTER TABLE "drain_positions" ADD COLUMN "workspace" text NOT NULL DEFAULT 'main';--> statement-breakpoint
ALTER TABLE "drain_positions" ALTER COLUMN "workspace" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "drain_positions" ADD CONSTRAINT "drain_positions_workspace_journal_segment_pk" PRIMARY KEY("workspace","journal","segment");--> statement-breakpoint
ALTER TABLE "sites" ADD CONSTRAINT "sites_workspace_key_pk" PRIMARY KEY("workspace","key");--> statement-breakpoint
ALTER TABLE "partners" ADD COLUMN "given_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "routes" ADD COLUMN "given_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "given_at" timestamp with time zone DEFAULT now() NOT NULL;
