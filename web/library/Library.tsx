import { endpoints, type TechniqueRow } from '@ulkret/contract';
import { Attire, Mechanism, Region, RuleTag, TechniqueKind } from '@ulkret/core/breakdown';
import { useEffect, useState } from 'react';
import { Controller } from 'react-hook-form';
import { Link, useNavigate, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { z } from 'zod';
import { useMay } from '../api/may';
import { useApi } from '../api/use-api';
import { addressOf, ask } from '../api/ask';
import { useAskingForm } from '../api/use-form';
import { Empty, Loaded, Refused } from '../ui/states';
import { Form, TextOf } from '../ui/form';
import { Button } from '../ui/button';
import { ButtonLink } from '../ui/button-link';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { TextField } from '../ui/text-field';
import { many } from '../ui/words';
import { Thumbnail } from '../strand/Strand';
import { useSearch } from '../reader/use-library';
import { Title } from '../ui/title';
import { TakeShipped } from './import/TakeShipped';

const Entry = styled(Link)`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.4rem 1.4rem;
  padding: 0.6rem 0;
  color: var(--ink);
  text-decoration: none;
  border-bottom: 1px solid var(--line);
  > span:first-child {
    flex: 1 1 17rem;
    display: grid;
  }
  strong {
    color: var(--action);
    text-decoration: underline;
  }
`;

const Group = styled.section`
  h2 {
    margin: 1rem 0 0.2rem;
  }
  &:first-child h2 {
    margin-top: 0;
  }
`;

const filters = [
  {
    name: 'kind',
    label: 'Kind',
    options: TechniqueKind.options,
    of: (t: TechniqueRow['technique']) => [t.kind],
  },
  {
    name: 'region',
    label: 'Region',
    options: Region.options,
    of: (t: TechniqueRow['technique']) => t.regions,
  },
  {
    name: 'mechanism',
    label: 'Mechanism',
    options: Mechanism.options,
    of: (t: TechniqueRow['technique']) => [t.mechanism],
  },
  {
    name: 'attire',
    label: 'Attire',
    options: Attire.options,
    of: (t: TechniqueRow['technique']) => [t.attire],
  },
  {
    name: 'rule',
    label: 'Rule tag',
    options: RuleTag.options,
    of: (t: TechniqueRow['technique']) => t.ruleTags,
  },
] as const;

const all = 'all';
const shownAtFirst = 60;
const typingMs = 120;

export default function Library() {
  const writes = useMay('coach');
  const techniques = useApi(endpoints.techniques);
  return (
    <Page>
      <Head>
        <Title>Library</Title>
        <Row>
          {writes && <ButtonLink to="/library/new">New technique</ButtonLink>}
          <ButtonLink $quiet to="/library/drills">
            Drills
          </ButtonLink>
          <ButtonLink $quiet to="/library/positions">
            Positions
          </ButtonLink>
          <ButtonLink $quiet to="/library/pieces">
            Shared pieces
          </ButtonLink>
          {writes && (
            <>
              <ButtonLink $quiet to="/library/import">
                Import a file
              </ButtonLink>
              <a href={addressOf(endpoints.exportBreakdowns)} download="breakdowns.json">
                Download the library
              </a>
            </>
          )}
        </Row>
      </Head>
      <Loaded of={techniques} what="the library">
        {({ techniques: rows }) =>
          rows.length === 0 ? (
            <Empty title="The library is empty.">
              <p hidden={!writes}>
                Write a <Link to="/library/new">new technique</Link>, or{' '}
                <Link to="/library/import">import a file</Link> of breakdowns.
              </p>
              {writes && (
                <Row style={{ marginTop: '0.8rem' }}>
                  <TakeShipped />
                </Row>
              )}
            </Empty>
          ) : (
            <Found rows={rows} />
          )
        }
      </Loaded>
    </Page>
  );
}

function Found({ rows }: { rows: readonly TechniqueRow[] }) {
  const [search, setSearch] = useSearchParams();
  const [typed, setTyped] = useState(search.get('q') ?? '');
  const [more, setMore] = useState(false);
  const words = search.get('q') ?? '';
  const set = (name: string, value: string) =>
    setSearch(
      () => {
        // As the address is now: the page may be drawn for it a moment later, and would bring back what was just taken away.
        const at = new URLSearchParams(window.location.search);
        if (value === '' || value === all) at.delete(name);
        else at.set(name, value);
        return at;
      },
      { replace: true },
    );
  // The address follows the typing a moment later: every change of it is a render of the whole page.
  useEffect(() => {
    if (typed.trim() === words) return;
    const timer = setTimeout(() => set('q', typed.trim()), typingMs);
    return () => clearTimeout(timer);
  });
  const ids = useSearch(rows, words);
  const position = search.get('position') ?? all;
  const fits = ({ technique, position: from }: TechniqueRow) =>
    (position === all || from === position) &&
    filters.every(({ name, of }) => {
      const wanted = search.get(name);
      return wanted === null || (of(technique) as readonly string[]).includes(wanted);
    });
  const byId = new Map(rows.map((row) => [row.technique.id, row]));
  const found = (ids ? ids.flatMap((id) => byId.get(id) ?? []) : rows).filter(fits);
  const shown = more ? found : found.slice(0, shownAtFirst);
  const positions = [...new Set(rows.map(({ position: from }) => from))].sort();
  const groups = ids
    ? [{ name: '', rows: shown }]
    : positions
        .map((name) => ({ name, rows: shown.filter(({ position: from }) => from === name) }))
        .filter((group) => group.rows.length > 0);
  return (
    <>
      <Row role="search">
        <div style={{ flex: '1 1 16rem' }}>
          <TextField label="Find by name, place or word" value={typed} onChange={setTyped} />
        </div>
        <Select
          label="From"
          value={position}
          options={[{ value: all, text: 'anywhere' }, ...positions.map((value) => ({ value, text: value }))]}
          onChange={(value) => set('position', value)}
        />
        {filters.map(({ name, label, options }) => (
          <Select
            key={name}
            label={label}
            value={search.get(name) ?? all}
            options={[
              { value: all, text: 'any' },
              ...options.map((value: string) => ({ value, text: value })),
            ]}
            onChange={(value) => set(name, value)}
          />
        ))}
      </Row>
      <Panel>
        <Quiet role="status">
          {found.length === rows.length
            ? many(rows.length, 'technique')
            : `${found.length} of ${many(rows.length, 'technique')}`}
        </Quiet>
        {groups.map((group) => (
          <Group key={group.name} aria-label={group.name || 'Found'}>
            {group.name && <h2>{group.name}</h2>}
            {group.rows.map((row) => (
              <TechniqueEntry key={row.technique.id} row={row} />
            ))}
          </Group>
        ))}
        {found.length === 0 && <p>No matches. Remove a filter or try another word.</p>}
        {found.length > shown.length && (
          <Button $quiet onPress={() => setMore(true)}>
            Show all {found.length}
          </Button>
        )}
      </Panel>
    </>
  );
}

function TechniqueEntry({
  row: { technique, edition, strand, reps, errors, warnings, draft },
}: {
  row: TechniqueRow;
}) {
  return (
    <Entry to={`/library/${technique.id}`}>
      <span>
        <strong>{technique.name}</strong>
        <Quiet as="span">
          {technique.kind} · {technique.mechanism} ·{' '}
          {edition === 0 ? 'never published' : `edition ${edition}`}
          {draft && ' · a draft is open'} · {many(reps, 'rep')}
        </Quiet>
      </span>
      <Thumbnail knots={strand} />
      <Quiet as="span" style={{ minWidth: '9rem', textAlign: 'right' }}>
        {errors > 0 && <b style={{ color: 'var(--stop)' }}>{many(errors, 'error')} </b>}
        {warnings > 0 && many(warnings, 'warning')}
        {errors + warnings === 0 && 'no problems'}
      </Quiet>
    </Entry>
  );
}

const slugOf = (name: string): string =>
  name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 64);

/** Begins a technique: a name, its kind and place; everything else on the workbench. */
/** What a technique begins with; its id is made of its name. */
const Begun = z.object({
  name: z
    .string()
    .trim()
    .max(80)
    .refine((name) => slugOf(name) !== '', 'a technique needs a name with letters or digits'),
  kind: TechniqueKind,
  startPosition: z.string().trim().min(1, 'say from which position it starts').max(80),
});

export function NewTechnique() {
  const navigate = useNavigate();
  const { control, submit, refusal, busy } = useAskingForm(
    Begun,
    { name: '', kind: 'submission', startPosition: '' },
    async (begun) => {
      const id = slugOf(begun.name);
      await ask(endpoints.addTechnique, {
        body: {
          ...begun,
          id,
          aliases: [],
          attire: 'either',
          mechanism: 'none',
          regions: [],
          ruleTags: [],
          loadSpeed: 'slow',
          safetyNote: '',
        },
      });
      await navigate(`/library/${id}?edit=1`);
    },
  );
  return (
    <Page>
      <Head>
        <Title>New technique</Title>
      </Head>
      <Panel>
        <Form onSubmit={(event) => void submit(event)}>
          <Row style={{ alignItems: 'end' }}>
            <TextOf control={control} name="name" label="Name, by what it does" autoFocus />
            <TextOf control={control} name="startPosition" label="Start position" />
            <Controller
              name="kind"
              control={control}
              render={({ field: { value, onChange } }) => (
                <Select
                  label="Kind"
                  value={value}
                  options={TechniqueKind.options.map((kind) => ({ value: kind, text: kind }))}
                  onChange={onChange}
                />
              )}
            />
            <Button type="submit" isDisabled={busy}>
              Begin
            </Button>
          </Row>
          <Refused by={refusal} />
        </Form>
      </Panel>
    </Page>
  );
}
