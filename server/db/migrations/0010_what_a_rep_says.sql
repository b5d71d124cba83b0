ALTER TABLE "reps" ADD COLUMN "ways" text[];--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "task" text[];--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "measured" jsonb;--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "met" jsonb;--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "by" text;--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "follows" jsonb;--> statement-breakpoint
CREATE INDEX "reps_that_follow" ON "reps" USING btree ("academy_id",("follows" ->> 'rep')) WHERE "reps"."follows" is not null;