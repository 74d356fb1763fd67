ALTER TABLE "claim_sums" DROP CONSTRAINT "claim_sums_workspace_day_network_ad_id_conversion_pk";--> statement-breakpoint
ALTER TABLE "claim_sums" ALTER COLUMN "click_through" SET DATA TYPE double precision;--> statement-breakpoint
ALTER TABLE "claim_sums" ALTER COLUMN "view_through" SET DATA TYPE double precision;--> statement-breakpoint
ALTER TABLE "claim_sums" ADD COLUMN "campaign_id" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "claim_sums" ADD COLUMN "ad_set_id" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "claim_sums" ADD CONSTRAINT "claim_sums_pk" PRIMARY KEY("workspace","day","network","campaign_id","ad_set_id","ad_id","conversion");
