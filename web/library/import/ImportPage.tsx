import { endpoints, type OutputOf } from '@ulkret/contract';
import { Fragment, useState } from 'react';
import { Link } from 'react-router';
import { useSWRConfig } from 'swr';
import { ApiRefusal, ask } from '../../api/ask';
import { Failed } from '../../ui/states';
import { Button } from '../../ui/button';
import { FileButton } from '../../ui/file-button';
import { Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { type Column, DataTable } from '../../ui/data-table';
import { many } from '../../ui/words';
import { Title } from '../../ui/title';
import { TakeShipped } from './TakeShipped';

type Report = OutputOf<typeof endpoints.importBreakdowns>;

const brings = ({ techniques, drafts, drills, pieces, positions }: Report['brought']): number =>
  techniques.length + drafts.length + drills.length + pieces.length + positions.length;

/** Reads a file of breakdowns: first what it would do, technique by technique, then, if the coach wants, does it. */
export default function ImportPage() {
  const reading = useFile();
  const { file, report, refusal, back, send, choose, takeBack, previewAgain } = reading;
  return (
    <Page>
      <Head>
        <Title>Import breakdowns</Title>
        <Link to="/library">Library</Link>
      </Head>
      <Panel>
        <p>
          A file in the format ulkret.breakdown/2 (or /1): one technique or a whole library. You see a preview
          first. Nothing is saved until you confirm.{' '}
          <a href="/api/schema/breakdown.json">The format as JSON Schema</a>
        </p>
        <Row style={{ marginTop: '0.7rem' }}>
          <FileButton kinds={['.json', 'application/json']} onChoose={(file) => void choose(file)}>
            Choose a file
          </FileButton>
          <TakeShipped quiet />
        </Row>
      </Panel>
      {refusal && <Failed error={refusal} />}
      {report?.fault && (
        <Panel role="alert">
          <h2>{file?.name} was not read.</h2>
          <p>
            {report.fault.path}: {report.fault.reason}. Nothing was saved.
          </p>
        </Panel>
      )}
      {back && file && <Undone name={file.name} {...{ back, previewAgain }} />}
      {report && !report.fault && file && (
        <Preview
          name={file.name}
          report={report}
          keep={() => void send(file.content, 'false')}
          takeBack={() => void takeBack(report.brought)}
        />
      )}
    </Page>
  );
}

/** A chosen file: its preview, its import, and the way back. */
function useFile() {
  const { mutate } = useSWRConfig();
  const [file, setFile] = useState<{ name: string; content: unknown } | null>(null);
  const [report, setReport] = useState<Report | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const send = async (content: unknown, dry: 'true' | 'false') => {
    setRefusal(null);
    try {
      setReport(await ask(endpoints.importBreakdowns, { body: content, query: { dry } }));
      if (dry === 'false') await mutate(() => true);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    }
  };
  const choose = async (chosen: File) => {
    setReport(null);
    setBack(null);
    try {
      const content: unknown = JSON.parse(await chosen.text());
      setFile({ name: chosen.name, content });
      await send(content, 'true');
    } catch (error) {
      setFile(null);
      setRefusal(
        new ApiRefusal(
          400,
          `${chosen.name} is not JSON: ${(error as Error).message}.`,
          'Nothing was saved. Fix the file and choose it again.',
        ),
      );
    }
  };
  const [back, setBack] = useState<OutputOf<typeof endpoints.takeBreakdownsBack> | null>(null);
  const takeBack = async (brought: Report['brought']) => {
    setRefusal(null);
    try {
      setBack(await ask(endpoints.takeBreakdownsBack, { body: brought }));
      setReport(null);
      await mutate(() => true);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    }
  };
  const previewAgain = () => file && void send(file.content, 'true').then(() => setBack(null));
  return { file, report, refusal, back, send, choose, takeBack, previewAgain };
}

function Undone({
  name,
  back,
  previewAgain,
}: {
  name: string;
  back: OutputOf<typeof endpoints.takeBreakdownsBack>;
  previewAgain: () => void;
}) {
  return (
    <Panel role="status">
      <h2>
        {name}: {many(back.gone, 'thing')} undone
      </h2>
      {back.stays.length > 0 && (
        <ul>
          {back.stays.map(({ what, reason }) => (
            <li key={what}>
              {what} stays: {reason}.
            </li>
          ))}
        </ul>
      )}
      <Button $quiet onPress={previewAgain}>
        Preview again
      </Button>
    </Panel>
  );
}

type ImportItem = Report['items'][number];

/** Unknown fields that are named one by one. */
const mostNamed = 5;

const columns: Column<ImportItem & { place: number }>[] = [
  { head: 'Technique', cell: ({ name }) => name, by: ({ name }) => name },
  {
    head: 'What it is',
    cell: ({ is, draft }) => (draft ? `${is}, as a draft` : is),
    by: ({ is }) => is,
  },
  {
    head: 'Why',
    cell: ({ is, draft, changes, faults, unknown }) => (
      <>
        {draft && 'Errors found: fix them before publishing.'}
        {is === 'changed' &&
          !draft &&
          `${many(changes, 'field')} differ${changes === 1 ? 's' : ''}: it becomes the next edition`}
        {faults.map(({ path, reason }) => (
          <div key={path + reason}>
            <code>{path}</code>: {reason}
          </div>
        ))}
        {unknown.length > 0 && (
          <div>
            {many(unknown.length, 'field')} nobody knows here {unknown.length === 1 ? 'is' : 'are'} left out:{' '}
            <code>{unknown.slice(0, mostNamed).join(', ')}</code>
            {unknown.length > mostNamed && ` and ${unknown.length - mostNamed} more`}
          </div>
        )}
      </>
    ),
  },
];

/** What a file would do, or has done, technique by technique. */
function Preview({
  name,
  report,
  keep,
  takeBack,
}: {
  name: string;
  report: Report;
  keep: () => void;
  takeBack: () => void;
}) {
  const items = report.items;
  const count = (is: Report['items'][number]['is']) => items.filter((item) => item.is === is).length;
  const wanted = count('new') + count('changed');
  const beside = [
    { one: 'drill', title: 'Drills', list: report.drills },
    { one: 'shared piece', title: 'Shared pieces', list: report.pieces },
    { one: 'position', title: 'Positions', list: report.positions },
  ];
  const what = [
    { one: 'technique', n: wanted },
    ...beside.map(({ one, list }) => ({ one, n: list.filter(({ is }) => is === 'new').length })),
  ]
    .flatMap(({ one, n }) => (n > 0 ? [many(n, one)] : []))
    .join(' and ');
  return (
    <Panel role="status">
      <h2>
        {name}: {count('new')} new, {count('changed')} changed, {count('same')} the same, {count('refused')}{' '}
        refused{report.kept && ' – saved'}
      </h2>
      <DataTable
        label="the file"
        rows={items.map((item, place) => ({ ...item, place }))}
        keyOf={({ technique, place }) => `${technique} ${place}`}
        wordsOf={({ name, is }) => `${name} ${is}`}
        columns={columns}
      />
      {beside
        .filter(({ list }) => list.length > 0)
        .map(({ one: name, title: heading, list }) => (
          <Fragment key={name}>
            <h3>{heading} included</h3>
            <ul>
              {list.map(({ id, title, is, reason }, place) => (
                <li key={`${id} ${place}`}>
                  {title}: {is === 'stays' ? 'not taken' : is === 'same' ? 'already here' : is}
                  {reason && `. ${reason}`}
                </li>
              ))}
            </ul>
          </Fragment>
        ))}
      {report.kept && brings(report.brought) > 0 && (
        <Button $quiet onPress={takeBack}>
          Undo import
        </Button>
      )}
      {!report.kept &&
        (what ? <Button onPress={keep}>Import {what}</Button> : <Quiet>Nothing to import.</Quiet>)}
    </Panel>
  );
}
