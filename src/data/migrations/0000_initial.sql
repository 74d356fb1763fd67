CREATE TABLE "ad_entities" (
	"workspace" text NOT NULL,
	"network" text NOT NULL,
	"level" text NOT NULL,
	"id" text NOT NULL,
	"campaign_id" text NOT NULL,
	"ad_set_id" text NOT NULL,
	"name" text NOT NULL,
	"landing_page" text,
	CONSTRAINT "ad_entities_workspace_network_level_id_pk" PRIMARY KEY("workspace","network","level","id")
);
--> statement-breakpoint
CREATE TABLE "ad_entity_names" (
	"workspace" text NOT NULL,
	"network" text NOT NULL,
	"level" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"first_day" date NOT NULL,
	CONSTRAINT "ad_entity_names_workspace_network_level_id_name_pk" PRIMARY KEY("workspace","network","level","id","name")
);
--> statement-breakpoint
CREATE TABLE "claim_rows" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"claim_key" text NOT NULL,
	"date" date,
	"claimed_at" timestamp with time zone NOT NULL,
	"network" text NOT NULL,
	"ad_id" text NOT NULL,
	"conversion" text NOT NULL,
	"kind" text NOT NULL,
	"transaction_id" text,
	"click_id" text,
	"value" text,
	"currency" text,
	"attributes" jsonb,
	"arrived_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "claim_rows_workspace_day_claim_key_pk" PRIMARY KEY("workspace","day","claim_key")
);
--> statement-breakpoint
CREATE TABLE "claim_sums" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"network" text NOT NULL,
	"ad_id" text NOT NULL,
	"conversion" text NOT NULL,
	"click_through" integer NOT NULL,
	"view_through" integer NOT NULL,
	"value" text,
	"currency" text,
	"attributes" jsonb,
	CONSTRAINT "claim_sums_workspace_day_network_ad_id_conversion_pk" PRIMARY KEY("workspace","day","network","ad_id","conversion")
);
--> statement-breakpoint
CREATE TABLE "clicks" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"click_id" text NOT NULL,
	"clicked_at" timestamp with time zone NOT NULL,
	"network" text NOT NULL,
	"campaign_id" text,
	"ad_set_id" text,
	"ad_id" text,
	"visitor_id" text,
	"network_click_id" text,
	"landing_url" text,
	"device" text,
	"placement" text,
	"keyword" text,
	"match_type" text,
	"source" text,
	"country" text,
	"attributes" jsonb,
	"arrived_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "clicks_workspace_day_click_id_pk" PRIMARY KEY("workspace","day","click_id")
);
--> statement-breakpoint
CREATE TABLE "delivery" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"network" text NOT NULL,
	"campaign_id" text NOT NULL,
	"ad_set_id" text NOT NULL,
	"ad_id" text NOT NULL,
	"segment" text NOT NULL,
	"currency" text NOT NULL,
	"spend" bigint NOT NULL,
	"impressions" bigint NOT NULL,
	"clicks" bigint NOT NULL,
	"campaign_name" text,
	"ad_set_name" text,
	"ad_name" text,
	"attributes" jsonb,
	CONSTRAINT "delivery_workspace_day_network_campaign_id_ad_set_id_ad_id_segment_pk" PRIMARY KEY("workspace","day","network","campaign_id","ad_set_id","ad_id","segment")
);
--> statement-breakpoint
CREATE TABLE "drain_positions" (
	"journal" text PRIMARY KEY NOT NULL,
	"segment" text NOT NULL,
	"offset" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "import_batches" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"kind" text NOT NULL,
	"file" text NOT NULL,
	"imported_at" timestamp with time zone NOT NULL,
	"accepted" integer NOT NULL,
	"duplicates" integer NOT NULL,
	"rejected" integer NOT NULL,
	CONSTRAINT "import_batches_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
CREATE TABLE "network_profiles" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"profile" jsonb NOT NULL,
	CONSTRAINT "network_profiles_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
CREATE TABLE "orders" (
	"workspace" text NOT NULL,
	"order_id" text NOT NULL,
	"ordered_at" timestamp with time zone NOT NULL,
	"status" text NOT NULL,
	"result" text NOT NULL,
	"currency" text NOT NULL,
	"total" bigint NOT NULL,
	"tax" bigint NOT NULL,
	"shipping" bigint NOT NULL,
	"refunded" bigint NOT NULL,
	"customer_id" text,
	"visitor_id" text,
	"click_id" text,
	"landing_url" text,
	"utm_source" text,
	"utm_medium" text,
	"utm_campaign" text,
	"utm_term" text,
	"utm_content" text,
	"attributes" jsonb,
	"arrived_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "orders_workspace_order_id_pk" PRIMARY KEY("workspace","order_id")
);
--> statement-breakpoint
CREATE TABLE "rates" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"base" text NOT NULL,
	"quote" text NOT NULL,
	"rate" text NOT NULL,
	"attributes" jsonb,
	CONSTRAINT "rates_workspace_day_base_quote_pk" PRIMARY KEY("workspace","day","base","quote")
);
--> statement-breakpoint
CREATE TABLE "rejects" (
	"workspace" text NOT NULL,
	"batch" text NOT NULL,
	"number" integer NOT NULL,
	"line" integer NOT NULL,
	"column" text NOT NULL,
	"reason" text NOT NULL,
	"value" text,
	CONSTRAINT "rejects_workspace_batch_number_pk" PRIMARY KEY("workspace","batch","number")
);
--> statement-breakpoint
CREATE TABLE "routes" (
	"workspace" text NOT NULL,
	"code" text NOT NULL,
	"network" text NOT NULL,
	"destination" text NOT NULL,
	CONSTRAINT "routes_workspace_code_pk" PRIMARY KEY("workspace","code"),
	CONSTRAINT "routes_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "tag_plans" (
	"workspace" text NOT NULL,
	"network" text NOT NULL,
	"level" text NOT NULL,
	"scope" text DEFAULT '' NOT NULL,
	"parameters" json NOT NULL,
	CONSTRAINT "tag_plans_workspace_network_level_scope_pk" PRIMARY KEY("workspace","network","level","scope")
);
--> statement-breakpoint
CREATE TABLE "visitors" (
	"workspace" text NOT NULL,
	"visitor_id" text NOT NULL,
	"first_seen" timestamp with time zone NOT NULL,
	"last_seen" timestamp with time zone NOT NULL,
	CONSTRAINT "visitors_workspace_visitor_id_pk" PRIMARY KEY("workspace","visitor_id")
);
--> statement-breakpoint
CREATE TABLE "workspaces" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"settings" jsonb NOT NULL,
	"version" bigint DEFAULT 0 NOT NULL
);
