import type { ReactNode } from 'react';
import styled from 'styled-components';
import { Button } from './button';
import { Panel, Quiet, Row } from './frame';

/** Why something is not there, and what to do about it where that is known. */
type Trouble = Error & { todo?: string };

const Wait = styled(Panel)`
  color: var(--muted);
`;

/** The old content stays until the new one arrives. */
const Stack = styled.div`
  display: flex;
  flex-direction: column;
  gap: 1.1rem;
`;

export const Loading = ({ what }: { what: string }) => <Wait role="status">Loading {what} …</Wait>;

/** What happened, what was kept, what to do; with a way to try again. */
export function Failed({ error, retry }: { error: Trouble; retry?: () => void }) {
  return (
    <Panel role="alert">
      <h2>{error.message}</h2>
      {error.todo && <p>{error.todo}</p>}
      {retry && (
        <Row style={{ marginTop: '0.8rem' }}>
          <Button onPress={retry}>Try again</Button>
        </Row>
      )}
    </Panel>
  );
}

/** In a form: why what was sent was not taken, and what to do. */
export const Refused = ({ by }: { by: Trouble | null | undefined }) =>
  by && (
    <p role="alert" style={{ color: 'var(--stop)' }}>
      {by.message} {by.todo}
    </p>
  );

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <Panel>
      <h2>{title}</h2>
      <Quiet as="div">{children}</Quiet>
    </Panel>
  );
}

/** A list in one of its states: loading, failed (with what was there before, if anything), or there. */
export function Loaded<T>({
  of: { data, error, isLoading, mutate },
  what,
  children,
}: {
  of: { data: T | undefined; error: Trouble | undefined; isLoading: boolean; mutate: () => unknown };
  what: string;
  children: (data: T) => ReactNode;
}) {
  if (data === undefined)
    return error ? <Failed error={error} retry={() => void mutate()} /> : <Loading what={what} />;
  return (
    <Stack aria-busy={isLoading}>
      {error && <Failed error={error} retry={() => void mutate()} />}
      {children(data)}
    </Stack>
  );
}
