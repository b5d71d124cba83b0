-- How hard each load is, guessed from where it begins: see `howOf` in the core. The workbench shows it, and it can be changed.
CREATE FUNCTION pg_temp.with_how(technique jsonb, checkpoints jsonb) RETURNS jsonb LANGUAGE sql AS $$
  SELECT CASE WHEN jsonb_typeof(technique -> 'loads') <> 'array' OR technique -> 'loads' = '[]'::jsonb THEN technique
  ELSE jsonb_set(technique, '{loads}', (
    SELECT jsonb_agg(load || jsonb_build_object('how', CASE
      WHEN load ? 'how' THEN load ->> 'how'
      WHEN load ->> 'whom' = 'student' THEN CASE WHEN technique ->> 'kind' = 'defence' THEN 'finish' ELSE 'light' END
      WHEN kind IS NULL OR kind = 'finish' OR load ->> 'from' = checkpoints -> -1 ->> 'id' THEN 'finish'
      WHEN kind = 'pressure' THEN 'firm'
      ELSE 'light' END) ORDER BY place)
    FROM jsonb_array_elements(technique -> 'loads') WITH ORDINALITY AS l(load, place)
    LEFT JOIN LATERAL (
      SELECT c ->> 'kind' AS kind FROM jsonb_array_elements(checkpoints) AS c WHERE c ->> 'id' = load ->> 'from' LIMIT 1
    ) AS at ON true)) END
$$;--> statement-breakpoint
UPDATE "techniques" t SET "technique" = pg_temp.with_how(t."technique", coalesce((
  SELECT b."breakdown" -> 'checkpoints' FROM "breakdowns" b
  WHERE b."academy_id" = t."academy_id" AND b."technique_id" = t."id" ORDER BY b."edition" DESC LIMIT 1), '[]'::jsonb))
WHERE t."technique" ? 'loads';--> statement-breakpoint
UPDATE "drafts" d SET "technique" = pg_temp.with_how(d."technique", coalesce(d."draft" -> 'checkpoints', '[]'::jsonb))
WHERE d."technique" ? 'loads';--> statement-breakpoint
-- Tallies now also say what held and what was lost at a root: every week is counted again.
INSERT INTO "stale_weeks" ("academy_id", "technique", "student", "week")
SELECT DISTINCT "academy_id", "technique", "student", date_trunc('week', "at" AT TIME ZONE 'UTC')::date FROM "reps"
ON CONFLICT ("academy_id", "technique", "student", "week") DO UPDATE SET "since" = now();
