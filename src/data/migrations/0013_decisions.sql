CREATE TABLE "decisions" (
	"workspace" text NOT NULL,
	"id" text NOT NULL,
	"decision" jsonb NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"undone_at" timestamp with time zone,
	CONSTRAINT "decisions_workspace_id_pk" PRIMARY KEY("workspace","id")
);
