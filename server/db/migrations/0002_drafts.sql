CREATE TABLE "drafts" (
	"academy_id" text NOT NULL,
	"technique_id" text NOT NULL,
	"revision" integer NOT NULL,
	"technique" jsonb NOT NULL,
	"draft" jsonb NOT NULL,
	"saved_by" text NOT NULL,
	"saved_at" timestamp(3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "drafts_academy_id_technique_id_pk" PRIMARY KEY("academy_id","technique_id")
);
--> statement-breakpoint
ALTER TABLE "techniques" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "drafts" ADD CONSTRAINT "drafts_academy_id_technique_id_techniques_academy_id_id_fk" FOREIGN KEY ("academy_id","technique_id") REFERENCES "public"."techniques"("academy_id","id") ON DELETE no action ON UPDATE no action;