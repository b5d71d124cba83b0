CREATE TABLE "accesses" (
	"academy_id" text NOT NULL,
	"id" uuid DEFAULT gen_random_uuid() NOT NULL,
	"at" timestamp(3) with time zone DEFAULT now() NOT NULL,
	"by" text NOT NULL,
	"what" text NOT NULL,
	"about" text,
	CONSTRAINT "accesses_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "person_notes" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"person" text NOT NULL,
	"by" text NOT NULL,
	"at" timestamp(3) with time zone NOT NULL,
	"words" text NOT NULL,
	"seen_by" text NOT NULL,
	CONSTRAINT "person_notes_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "rate_limits" (
	"key" text PRIMARY KEY NOT NULL,
	"points" integer NOT NULL,
	"expire" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "accesses" ADD CONSTRAINT "accesses_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_notes" ADD CONSTRAINT "person_notes_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "accesses_by_time" ON "accesses" USING btree ("academy_id","at");--> statement-breakpoint
CREATE INDEX "person_notes_by_person" ON "person_notes" USING btree ("academy_id","person");