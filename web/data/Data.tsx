import { endpoints } from '@ulkret/contract';
import { addressOf } from '../api/ask';
import { Head, Page, Panel, Row } from '../ui/frame';
import { Title } from '../ui/title';
import { ImportReps } from './ImportReps';

export default function Data() {
  return (
    <Page>
      <Head>
        <Title>Data</Title>
      </Head>
      <Panel>
        <h2>Reps out</h2>
        <p>
          All reps that stand, as CSV, in the columns that an import reads back. It names people: keep it as
          you would a register.
        </p>
        <Row style={{ marginTop: '0.7rem' }}>
          <a href={addressOf(endpoints.exportReps)} download="reps.csv">
            Download reps.csv
          </a>
        </Row>
      </Panel>
      <ImportReps />
    </Page>
  );
}
