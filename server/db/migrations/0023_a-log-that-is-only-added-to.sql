ALTER TABLE "accesses" ADD COLUMN "words" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "accesses" ADD COLUMN "seq" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "accesses" ADD COLUMN "about_mark" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "accesses" ADD COLUMN "salt" uuid;--> statement-breakpoint
ALTER TABLE "accesses" ADD COLUMN "prev" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "accesses" ADD COLUMN "hash" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "accesses_in_order" ON "accesses" USING btree ("academy_id","seq");--> statement-breakpoint
-- What an entry says, as one text: nothing of it can change without its hash.
CREATE FUNCTION access_said(a accesses) RETURNS text LANGUAGE sql STABLE AS $$
  SELECT jsonb_build_array(a.academy_id, a.seq, a.id, to_char(a.at AT TIME ZONE 'UTC', 'YYYY-MM-DD HH24:MI:SS.MS'), a.by, a.what, a.about_mark, a.words)::text
$$;
--> statement-breakpoint
CREATE FUNCTION access_hash(before text, said text) RETURNS text LANGUAGE sql IMMUTABLE AS $$
  SELECT encode(sha256(convert_to(before || said, 'UTF8')), 'hex')
$$;
--> statement-breakpoint
CREATE FUNCTION access_added() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE latest accesses%ROWTYPE;
BEGIN
  -- One after the other, so that no two have the same one before them.
  PERFORM pg_advisory_xact_lock(hashtextextended('accesses ' || NEW.academy_id, 0));
  SELECT * INTO latest FROM accesses WHERE academy_id = NEW.academy_id ORDER BY seq DESC LIMIT 1;
  NEW.seq := coalesce(latest.seq, 0) + 1;
  NEW.prev := coalesce(latest.hash, '');
  NEW.salt := CASE WHEN NEW.about IS NULL THEN NULL ELSE gen_random_uuid() END;
  NEW.about_mark := CASE WHEN NEW.about IS NULL THEN '' ELSE access_hash(NEW.salt::text, NEW.about) END;
  NEW.hash := access_hash(NEW.prev, access_said(NEW));
  RETURN NEW;
END $$;
--> statement-breakpoint
CREATE FUNCTION access_kept() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'UPDATE' AND to_jsonb(NEW) - 'about' - 'salt' = to_jsonb(OLD) - 'about' - 'salt' THEN
    -- Somebody is erased, or was entered twice: the mark stays, and says no more whose it was.
    NEW.salt := NULL;
    RETURN NEW;
  END IF;
  IF TG_OP = 'DELETE' AND current_setting('ulkret.forgets', true) = 'on' THEN
    RETURN OLD;
  END IF;
  RAISE EXCEPTION 'The access log is only added to.';
END $$;
--> statement-breakpoint
-- What is older than the house keeps goes, and an entry says up to where.
CREATE FUNCTION forget_accesses(of text, who text, months integer) RETURNS integer LANGUAGE plpgsql AS $$
DECLARE upto integer;
BEGIN
  PERFORM pg_advisory_xact_lock(hashtextextended('accesses ' || of, 0));
  -- Up to the last one before the first that stays: what is kept has no gap.
  SELECT coalesce(
    (SELECT min(seq) - 1 FROM accesses WHERE academy_id = of AND at >= now() - make_interval(months => months)),
    (SELECT max(seq) FROM accesses WHERE academy_id = of)) INTO upto;
  IF upto IS NULL OR NOT EXISTS (SELECT 1 FROM accesses WHERE academy_id = of AND seq <= upto) THEN RETURN 0; END IF;
  INSERT INTO accesses (academy_id, by, what, words) VALUES (of, who, 'forgot earlier entries', 'up to ' || upto);
  PERFORM set_config('ulkret.forgets', 'on', true);
  DELETE FROM accesses WHERE academy_id = of AND seq <= upto;
  PERFORM set_config('ulkret.forgets', 'off', true);
  RETURN upto;
END $$;
--> statement-breakpoint
CREATE TEMPORARY TABLE accesses_before AS SELECT * FROM accesses;
--> statement-breakpoint
DELETE FROM accesses;
--> statement-breakpoint
CREATE TRIGGER access_added BEFORE INSERT ON accesses FOR EACH ROW EXECUTE FUNCTION access_added();
--> statement-breakpoint
INSERT INTO accesses (academy_id, id, at, by, what, about)
  SELECT academy_id, id, at, by, what, about FROM accesses_before ORDER BY at, id;
--> statement-breakpoint
DROP TABLE accesses_before;
--> statement-breakpoint
CREATE TRIGGER access_kept BEFORE UPDATE OR DELETE ON accesses FOR EACH ROW EXECUTE FUNCTION access_kept();
--> statement-breakpoint
CREATE TRIGGER access_not_emptied BEFORE TRUNCATE ON accesses FOR EACH STATEMENT EXECUTE FUNCTION access_kept();
