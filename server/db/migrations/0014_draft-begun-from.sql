ALTER TABLE "drafts" ADD COLUMN "begun_from" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
-- Nobody knows what the drafts of before were begun from: they follow what is published now.
UPDATE "drafts" SET "begun_from" = coalesce(
  (SELECT max("edition") FROM "breakdowns" WHERE "breakdowns"."academy_id" = "drafts"."academy_id" AND "breakdowns"."technique_id" = "drafts"."technique_id"), 0);
