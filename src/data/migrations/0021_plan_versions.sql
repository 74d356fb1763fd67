CREATE TABLE "tag_plan_versions" (
	"workspace" text NOT NULL,
	"network" text NOT NULL,
	"level" text NOT NULL,
	"scope" text DEFAULT '' NOT NULL,
	"since" timestamp with time zone NOT NULL,
	"parameters" json NOT NULL,
	CONSTRAINT "tag_plan_versions_workspace_network_level_scope_since_pk" PRIMARY KEY("workspace","network","level","scope","since")
);
--> statement-breakpoint
CREATE INDEX "clicks_unread" ON "clicks" USING btree ("workspace","network") WHERE "clicks"."attributes" ? 'unknown';--> statement-breakpoint
INSERT INTO "tag_plan_versions" SELECT "workspace", "network", "level", "scope", 'epoch', "parameters" FROM "tag_plans";
