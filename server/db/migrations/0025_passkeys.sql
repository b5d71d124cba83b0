CREATE TABLE "challenges" (
	"challenge" text PRIMARY KEY NOT NULL,
	"expires_at" timestamp(3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "passkeys" (
	"academy_id" text NOT NULL,
	"coach_id" text NOT NULL,
	"id" text NOT NULL,
	"public_key" text NOT NULL,
	"counter" integer NOT NULL,
	"device" text NOT NULL,
	"made_at" timestamp(3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "passkeys_academy_id_id_pk" PRIMARY KEY("academy_id","id")
);
--> statement-breakpoint
ALTER TABLE "sign_ins" ADD COLUMN "proved_at" timestamp(3) with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "passkeys" ADD CONSTRAINT "passkeys_academy_id_coach_id_coaches_academy_id_id_fk" FOREIGN KEY ("academy_id","coach_id") REFERENCES "public"."coaches"("academy_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "passkeys_id" ON "passkeys" USING btree ("id");