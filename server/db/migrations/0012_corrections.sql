CREATE TABLE "drills" (
	"academy_id" text NOT NULL,
	"id" text NOT NULL,
	"drill" jsonb NOT NULL,
	CONSTRAINT "drills_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "steps" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"session" uuid,
	"at" timestamp(3) with time zone NOT NULL,
	"observer" text NOT NULL,
	"student" text NOT NULL,
	"technique" text NOT NULL,
	"edition" integer NOT NULL,
	"does" jsonb NOT NULL,
	CONSTRAINT "steps_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "fits" ADD COLUMN "fall" double precision;--> statement-breakpoint
ALTER TABLE "drills" ADD CONSTRAINT "drills_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "steps" ADD CONSTRAINT "steps_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "steps_by_session" ON "steps" USING btree ("academy_id","session");--> statement-breakpoint
CREATE INDEX "steps_by_technique" ON "steps" USING btree ("academy_id","technique","student");--> statement-breakpoint
-- Tallies now also say how many reps began at a checkpoint: every week is counted anew.
INSERT INTO "stale_weeks" ("academy_id", "technique", "student", "week")
SELECT DISTINCT "academy_id", "technique", "student", date_trunc('week', "at" AT TIME ZONE 'UTC')::date FROM "reps"
ON CONFLICT ("academy_id", "technique", "student", "week") DO UPDATE SET "since" = now();
