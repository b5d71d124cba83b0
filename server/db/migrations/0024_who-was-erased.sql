CREATE TABLE "erasures" (
	"academy_id" text NOT NULL,
	"id" uuid DEFAULT gen_random_uuid() NOT NULL,
	"salt" uuid DEFAULT gen_random_uuid() NOT NULL,
	"mark" text NOT NULL,
	"reps" integer NOT NULL,
	"at" timestamp(3) with time zone DEFAULT now() NOT NULL,
	"remade_at" timestamp(3) with time zone,
	CONSTRAINT "erasures_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "erasures" ADD CONSTRAINT "erasures_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;