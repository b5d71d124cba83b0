CREATE TABLE "care_notes" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"session" uuid,
	"at" timestamp(3) with time zone NOT NULL,
	"observer" text NOT NULL,
	"person" text NOT NULL,
	"why" text NOT NULL,
	"regions" text[] NOT NULL,
	"side" text,
	"until" date NOT NULL,
	"words" text NOT NULL,
	"replaces" uuid,
	CONSTRAINT "care_notes_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "changes" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"session" uuid NOT NULL,
	"at" timestamp(3) with time zone NOT NULL,
	"observer" text NOT NULL,
	"set" jsonb NOT NULL,
	CONSTRAINT "changes_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
CREATE TABLE "overrides" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"session" uuid NOT NULL,
	"at" timestamp(3) with time zone NOT NULL,
	"observer" text NOT NULL,
	"student" text NOT NULL,
	"partner" text,
	"technique" text NOT NULL,
	"reason" text NOT NULL,
	CONSTRAINT "overrides_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "care_notes" ADD CONSTRAINT "care_notes_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "changes" ADD CONSTRAINT "changes_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "overrides" ADD CONSTRAINT "overrides_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "care_notes_by_session" ON "care_notes" USING btree ("academy_id","session");--> statement-breakpoint
CREATE INDEX "care_notes_by_until" ON "care_notes" USING btree ("academy_id","until");--> statement-breakpoint
CREATE INDEX "changes_by_session" ON "changes" USING btree ("academy_id","session");--> statement-breakpoint
CREATE INDEX "overrides_by_session" ON "overrides" USING btree ("academy_id","session");