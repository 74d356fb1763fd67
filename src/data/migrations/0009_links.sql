CREATE TABLE "naming_rules" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"rule" jsonb NOT NULL,
	CONSTRAINT "naming_rules_workspace_id_pk" PRIMARY KEY("workspace","id")
);
--> statement-breakpoint
CREATE TABLE "saved_link_history" (
	"workspace" text NOT NULL,
	"code" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"link" json NOT NULL,
	CONSTRAINT "saved_link_history_workspace_code_at_pk" PRIMARY KEY("workspace","code","at")
);
--> statement-breakpoint
CREATE TABLE "saved_links" (
	"workspace" text NOT NULL,
	"code" text NOT NULL,
	"link" json NOT NULL,
	CONSTRAINT "saved_links_workspace_code_pk" PRIMARY KEY("workspace","code")
);
--> statement-breakpoint
ALTER TABLE "ad_entities" ADD COLUMN "straight" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "ad_entities" ADD COLUMN "placed" text;