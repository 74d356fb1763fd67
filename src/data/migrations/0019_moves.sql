CREATE TABLE "move_lists" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"list" jsonb NOT NULL,
	"applied" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"undone_at" timestamp with time zone,
	CONSTRAINT "move_lists_workspace_id_pk" PRIMARY KEY("workspace","id")
);
