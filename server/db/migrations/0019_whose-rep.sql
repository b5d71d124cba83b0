ALTER TABLE "reps" ADD COLUMN "device" text;--> statement-breakpoint
ALTER TABLE "voids" ADD COLUMN "restores" boolean;--> statement-breakpoint
ALTER TABLE "voids" ADD COLUMN "device" text;