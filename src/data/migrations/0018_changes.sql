CREATE TABLE "changes" (
	"workspace" text NOT NULL,
	"day" date NOT NULL,
	"what" text NOT NULL,
	"about" text NOT NULL,
	CONSTRAINT "changes_workspace_day_what_about_pk" PRIMARY KEY("workspace","day","what","about")
);
