ALTER TABLE "reps" ADD COLUMN "entry" text;--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "finish" text;--> statement-breakpoint
ALTER TABLE "reps" ADD COLUMN "timed" jsonb;