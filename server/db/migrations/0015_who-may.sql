CREATE TABLE "house_rules" (
	"academy_id" text NOT NULL,
	"revision" integer NOT NULL,
	"rules" jsonb NOT NULL,
	"by" text NOT NULL,
	"at" timestamp(3) with time zone NOT NULL,
	CONSTRAINT "house_rules_academy_id_revision_pk" PRIMARY KEY("academy_id","revision")
);
--> statement-breakpoint
CREATE TABLE "invitations" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"secret_hash" text NOT NULL,
	"role" text NOT NULL,
	"name" text NOT NULL,
	"student_id" text,
	"made_by" text NOT NULL,
	"made_at" timestamp(3) with time zone NOT NULL,
	"expires_at" timestamp(3) with time zone NOT NULL,
	CONSTRAINT "invitations_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "care_notes" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "cause_tags" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "changes" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "coaches" ADD COLUMN "student_id" text;--> statement-breakpoint
ALTER TABLE "coaches" ADD COLUMN "closed_at" timestamp(3) with time zone;--> statement-breakpoint
ALTER TABLE "overrides" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "second_looks" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "sign_ins" ADD COLUMN "id" uuid DEFAULT gen_random_uuid() NOT NULL;--> statement-breakpoint
ALTER TABLE "sign_ins" ADD COLUMN "device" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sign_ins" ADD COLUMN "opened_at" timestamp(3) with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "sign_ins" ADD COLUMN "seen_at" timestamp(3) with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "steps" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "voids" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "house_rules" ADD CONSTRAINT "house_rules_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitations" ADD CONSTRAINT "invitations_academy_id_academies_academy_id_fk" FOREIGN KEY ("academy_id") REFERENCES "public"."academies"("academy_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "invitations_secret" ON "invitations" USING btree ("academy_id","secret_hash");--> statement-breakpoint
-- Until now an assistant could do all that a coach may: nobody loses what they had.
UPDATE "coaches" SET "role" = 'coach' WHERE "role" = 'assistant';
