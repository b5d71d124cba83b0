CREATE TABLE "reading_versions" (
	"academy_id" text PRIMARY KEY NOT NULL,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "reading_versions" ADD CONSTRAINT "reading_versions_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;