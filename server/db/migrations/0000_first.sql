CREATE TABLE "academies" (
	"academy_id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"demo" boolean DEFAULT false NOT NULL,
	"created_at" timestamp(3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "breakdowns" (
	"academy_id" text NOT NULL,
	"technique_id" text NOT NULL,
	"edition" integer NOT NULL,
	"breakdown" jsonb NOT NULL,
	CONSTRAINT "breakdowns_academy_id_technique_id_edition_pk" PRIMARY KEY("academy_id","technique_id","edition")
);
--> statement-breakpoint
CREATE TABLE "cause_tags" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"rep" uuid NOT NULL,
	"cause" text,
	"at" timestamp(3) with time zone NOT NULL,
	"observer" text NOT NULL,
	CONSTRAINT "cause_tags_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "coaches" (
	"academy_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"email" text NOT NULL,
	"password_hash" text NOT NULL,
	"role" text NOT NULL,
	CONSTRAINT "coaches_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "reps" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"session" uuid,
	"at" timestamp(3) with time zone NOT NULL,
	"technique" text NOT NULL,
	"edition" integer NOT NULL,
	"student" text NOT NULL,
	"partner" text,
	"side" text NOT NULL,
	"rung" smallint NOT NULL,
	"from" text,
	"to" text,
	"outcome" text NOT NULL,
	"stop" text,
	"failed" text[],
	"held_to" text,
	"soft" text[] NOT NULL,
	"cause" text,
	"observer" text NOT NULL,
	"source" text NOT NULL,
	"note" text NOT NULL,
	"received_at" timestamp(3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "reps_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"technique_id" text NOT NULL,
	"started_at" timestamp(3) with time zone NOT NULL,
	"session" jsonb NOT NULL,
	CONSTRAINT "sessions_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "sign_ins" (
	"academy_id" text NOT NULL,
	"secret_hash" text NOT NULL,
	"coach_id" text NOT NULL,
	"expires_at" timestamp(3) with time zone NOT NULL,
	CONSTRAINT "sign_ins_academy_id_secret_hash_pk" PRIMARY KEY("academy_id","secret_hash")
);
--> statement-breakpoint
CREATE TABLE "students" (
	"academy_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"student" jsonb NOT NULL,
	CONSTRAINT "students_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "techniques" (
	"academy_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"technique" jsonb NOT NULL,
	CONSTRAINT "techniques_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "voids" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"rep" uuid NOT NULL,
	"at" timestamp(3) with time zone NOT NULL,
	"observer" text NOT NULL,
	CONSTRAINT "voids_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "breakdowns" ADD CONSTRAINT "breakdowns_academy_id_technique_id_techniques_academy_id_id_fk" FOREIGN KEY ("academy_id","technique_id") REFERENCES "public"."techniques"("academy_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cause_tags" ADD CONSTRAINT "cause_tags_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "coaches" ADD CONSTRAINT "coaches_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reps" ADD CONSTRAINT "reps_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sign_ins" ADD CONSTRAINT "sign_ins_academy_id_coach_id_coaches_academy_id_id_fk" FOREIGN KEY ("academy_id","coach_id") REFERENCES "public"."coaches"("academy_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "students" ADD CONSTRAINT "students_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "techniques" ADD CONSTRAINT "techniques_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "voids" ADD CONSTRAINT "voids_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "cause_tags_by_rep" ON "cause_tags" USING btree ("academy_id","rep");--> statement-breakpoint
CREATE UNIQUE INDEX "coaches_email" ON "coaches" USING btree (lower("email"));--> statement-breakpoint
CREATE INDEX "reps_by_technique" ON "reps" USING btree ("academy_id","technique","student","at");--> statement-breakpoint
CREATE INDEX "reps_by_session" ON "reps" USING btree ("academy_id","session");--> statement-breakpoint
CREATE INDEX "sessions_by_start" ON "sessions" USING btree ("academy_id","started_at" DESC NULLS LAST);--> statement-breakpoint
CREATE INDEX "voids_by_rep" ON "voids" USING btree ("academy_id","rep");