CREATE TABLE "pieces" (
	"academy_id" text NOT NULL,
	"id" text NOT NULL,
	"piece" jsonb NOT NULL,
	CONSTRAINT "pieces_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "pieces" ADD CONSTRAINT "pieces_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;