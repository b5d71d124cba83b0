CREATE TABLE "positions" (
	"academy_id" text NOT NULL,
	"id" text NOT NULL,
	"position" jsonb NOT NULL,
	CONSTRAINT "positions_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "positions" ADD CONSTRAINT "positions_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;