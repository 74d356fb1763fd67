CREATE TABLE "events" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"event_id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"name" text NOT NULL,
	"page" text,
	"referrer" text,
	"visitor_id" text,
	"click_id" text,
	"value" text,
	"currency" text,
	"transaction_id" text,
	"country" text,
	"bot" boolean DEFAULT false NOT NULL,
	"attributes" jsonb,
	"arrived_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "events_workspace_day_event_id_pk" PRIMARY KEY("workspace","day","event_id")
);
--> statement-breakpoint
CREATE TABLE "hops" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"hop_id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"code" text NOT NULL,
	"click_id" text,
	"visitor_id" text,
	"offer" text NOT NULL,
	"bot" boolean DEFAULT false NOT NULL,
	"attributes" jsonb,
	"arrived_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "hops_workspace_day_hop_id_pk" PRIMARY KEY("workspace","day","hop_id")
);
--> statement-breakpoint
CREATE TABLE "partners" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"code" text NOT NULL,
	"partner" jsonb NOT NULL,
	"secret" jsonb,
	CONSTRAINT "partners_workspace_id_pk" PRIMARY KEY("workspace","id"),
	CONSTRAINT "partners_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "postbacks" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"postback_id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"partner" text NOT NULL,
	"query" text NOT NULL,
	"deal" text,
	"click_id" text,
	"status" text,
	"attributes" jsonb,
	"arrived_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "postbacks_workspace_day_postback_id_pk" PRIMARY KEY("workspace","day","postback_id")
);
--> statement-breakpoint
CREATE TABLE "report_mappings" (
	"workspace" text NOT NULL,
	"network" text NOT NULL,
	"mapping" jsonb NOT NULL,
	CONSTRAINT "report_mappings_workspace_network_pk" PRIMARY KEY("workspace","network")
);
--> statement-breakpoint
CREATE TABLE "sales" (
	"workspace" text NOT NULL,
	"partner" text NOT NULL,
	"deal" text NOT NULL,
	"click_id" text,
	"amount" bigint,
	"currency" text NOT NULL,
	"status" text NOT NULL,
	"sub_ids" jsonb NOT NULL,
	"first_at" timestamp with time zone NOT NULL,
	"changed_at" timestamp with time zone NOT NULL,
	CONSTRAINT "sales_workspace_partner_deal_pk" PRIMARY KEY("workspace","partner","deal")
);
--> statement-breakpoint
CREATE TABLE "secrets" (
	"workspace" text NOT NULL,
	"name" text NOT NULL,
	"value" text NOT NULL,
	CONSTRAINT "secrets_workspace_name_pk" PRIMARY KEY("workspace","name")
);
--> statement-breakpoint
CREATE TABLE "set_aside" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"kind" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"reason" text NOT NULL,
	"facts" jsonb NOT NULL,
	"raw" text NOT NULL,
	"settled" text,
	CONSTRAINT "set_aside_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
CREATE TABLE "sites" (
	"key" text PRIMARY KEY NOT NULL,
	"workspace" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "webhook_messages" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	CONSTRAINT "webhook_messages_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
ALTER TABLE "clicks" ADD COLUMN "bot" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "clicks" ADD COLUMN "repeated" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "orders" ADD COLUMN "changed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "routes" ADD COLUMN "landings" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "routes" ADD COLUMN "offers" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "routes" ADD COLUMN "paused" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "events_by_arrival" ON "events" USING btree ("workspace","arrived_at");--> statement-breakpoint
CREATE INDEX "hops_by_arrival" ON "hops" USING btree ("workspace","arrived_at");--> statement-breakpoint
CREATE INDEX "postbacks_by_arrival" ON "postbacks" USING btree ("workspace","arrived_at");--> statement-breakpoint
UPDATE "routes" SET "landings" = jsonb_build_array(jsonb_build_object('address', "destination", 'weight', 1));
