import type { FallbackProps } from 'react-error-boundary';
import { syncWords } from '../device/sync-state';
import { useSyncState } from '../device/use-outbox';
import { Button } from '../ui/button';
import { ButtonLink } from '../ui/button-link';
import { Page, Panel, Quiet, Row } from '../ui/frame';
import { Title } from '../ui/title';

/** A page that broke, in the place of that page: the rail stays, and so does what was entered. */
export function Broken({ error }: Pick<FallbackProps, 'error'>) {
  const sync = useSyncState();
  return (
    <Page>
      <Panel role="alert">
        <Title>This page has stopped working.</Title>
        <p>
          Your entries are safe: {syncWords(sync)}. Open it again. If it happens again, send the text below to
          your server’s admin.
        </p>
        <Row style={{ margin: '0.8rem 0' }}>
          <Button onPress={() => window.location.reload()}>Open it again</Button>
          <ButtonLink to="/" $quiet>
            Go to Today
          </ButtonLink>
        </Row>
        <Quiet>{error instanceof Error ? error.message : String(error)}</Quiet>
      </Panel>
    </Page>
  );
}
