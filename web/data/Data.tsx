import { endpoints } from '@ulkret/contract';
import { useMay } from '../api/may';
import { addressOf } from '../api/ask';
import { Head, Page, Panel, Row } from '../ui/frame';
import { Empty } from '../ui/states';
import { Title } from '../ui/title';
import { Aside } from './Aside';
import { ImportReps } from './ImportReps';
import { WholeAcademy } from './WholeAcademy';

export default function Data() {
  const writes = useMay('coach');
  const heads = useMay('head');
  if (!writes)
    return (
      <Page>
        <Title>Data</Title>
        <Empty title="Imports and exports are for coaches.">
          <p>They name everybody. Ask a coach for what you need.</p>
        </Empty>
      </Page>
    );
  return (
    <Page>
      <Head>
        <Title>Data</Title>
      </Head>
      <Panel>
        <h2>Export reps</h2>
        <p>
          All reps except undone ones, as CSV, in the columns an import reads. It names people: store it like
          a medical record.
        </p>
        <Row style={{ marginTop: '0.7rem' }}>
          <a href={addressOf(endpoints.exportReps)} download="reps.csv">
            Download reps.csv
          </a>
        </Row>
      </Panel>
      <ImportReps />
      {heads && <WholeAcademy />}
      <Aside />
    </Page>
  );
}
