CREATE TABLE "results" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"definition" jsonb NOT NULL,
	CONSTRAINT "results_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
CREATE TABLE "rules" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"rule" jsonb NOT NULL,
	CONSTRAINT "rules_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
CREATE TABLE "signals" (
	"workspace" text NOT NULL,
	"network" text NOT NULL,
	"result" text NOT NULL,
	"slot" text NOT NULL,
	CONSTRAINT "signals_workspace_network_result_pk" PRIMARY KEY("workspace","network","result")
);
