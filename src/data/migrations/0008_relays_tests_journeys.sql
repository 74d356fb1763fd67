CREATE TABLE "journeys" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"journey" jsonb NOT NULL,
	CONSTRAINT "journeys_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
CREATE TABLE "live_tests" (
	"workspace" text NOT NULL,
	"token" text NOT NULL,
	"address" text NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"ended_at" timestamp with time zone,
	CONSTRAINT "live_tests_workspace_token_pk" PRIMARY KEY("workspace","token")
);
--> statement-breakpoint
CREATE TABLE "relays" (
	"workspace" text NOT NULL,
	"network" text NOT NULL,
	"event_id" text NOT NULL,
	"result" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"facts" jsonb NOT NULL,
	"state" text NOT NULL,
	"next_at" timestamp with time zone NOT NULL,
	"tries" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"test" text,
	CONSTRAINT "relays_workspace_network_event_id_pk" PRIMARY KEY("workspace","network","event_id")
);
--> statement-breakpoint
CREATE TABLE "test_records" (
	"workspace" text NOT NULL,
	"token" text NOT NULL,
	"id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"kind" text NOT NULL,
	"record" jsonb NOT NULL,
	"transaction_id" text,
	CONSTRAINT "test_records_workspace_token_id_pk" PRIMARY KEY("workspace","token","id")
);
--> statement-breakpoint
CREATE INDEX "relays_due" ON "relays" USING btree ("state","next_at");