CREATE TABLE "fits" (
	"academy_id" text PRIMARY KEY NOT NULL,
	"model" text NOT NULL,
	"student" double precision NOT NULL,
	"deviation" double precision NOT NULL,
	"made_at" timestamp(3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "second_looks" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"rep" uuid NOT NULL,
	"stop" text,
	"at" timestamp(3) with time zone NOT NULL,
	"observer" text NOT NULL,
	CONSTRAINT "second_looks_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "stale_weeks" (
	"academy_id" text NOT NULL,
	"technique" text NOT NULL,
	"student" text NOT NULL,
	"week" date NOT NULL,
	"since" timestamp(3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "stale_weeks_academy_id_technique_student_week_pk" PRIMARY KEY("academy_id","technique","student","week")
);
--> statement-breakpoint
CREATE TABLE "tallies" (
	"academy_id" text NOT NULL,
	"technique" text NOT NULL,
	"week" date NOT NULL,
	"student" text NOT NULL,
	"rung" smallint NOT NULL,
	"side" text NOT NULL,
	"mass_band" smallint NOT NULL,
	"reps" integer NOT NULL,
	"judged" integer NOT NULL,
	"finished" integer NOT NULL,
	"checkpoints" jsonb NOT NULL,
	CONSTRAINT "tallies_academy_id_technique_week_student_rung_side_mass_band_pk" PRIMARY KEY("academy_id","technique","week","student","rung","side","mass_band")
);
--> statement-breakpoint
ALTER TABLE "fits" ADD CONSTRAINT "fits_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "second_looks" ADD CONSTRAINT "second_looks_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stale_weeks" ADD CONSTRAINT "stale_weeks_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tallies" ADD CONSTRAINT "tallies_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "second_looks_by_rep" ON "second_looks" USING btree ("academy_id","rep");--> statement-breakpoint
INSERT INTO "stale_weeks" ("academy_id", "technique", "student", "week")
SELECT DISTINCT "academy_id", "technique", "student", date_trunc('week', "at" at time zone 'UTC')::date FROM "reps";
