-- Within an academy (`server/db/within.ts`) no row of another one is seen or written, whatever a query forgets to ask; where no academy
-- is named, all are seen. Who owns the tables and superusers are above it: the server is neither (`server/db/role.ts`).
do $$
declare one text;
begin
  for one in
    select c.relname from pg_class c
    join pg_attribute a on a.attrelid = c.oid and a.attname = 'academy_id' and not a.attisdropped
    where c.relnamespace = 'public'::regnamespace and c.relkind = 'r'
  loop
    execute format('alter table %I enable row level security', one);
    execute format(
      $policy$create policy within_academy on %I
        using (academy_id = coalesce(nullif(current_setting('ulkret.academy', true), ''), academy_id))$policy$,
      one
    );
  end loop;
end $$;
