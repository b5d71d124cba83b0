CREATE TABLE "card_links" (
	"academy_id" text NOT NULL,
	"id" uuid NOT NULL,
	"student_id" text NOT NULL,
	"secret_hash" text NOT NULL,
	"made_by" text NOT NULL,
	"made_at" timestamp(3) with time zone NOT NULL,
	"expires_at" timestamp(3) with time zone NOT NULL,
	"opened_at" timestamp(3) with time zone,
	CONSTRAINT "card_links_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "card_links" ADD CONSTRAINT "card_links_academy_id_student_id_students_academy_id_id_fk" FOREIGN KEY ("academy_id","student_id") REFERENCES "public"."students"("academy_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "card_links_secret" ON "card_links" USING btree ("academy_id","secret_hash");