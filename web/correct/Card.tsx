import { endpoints } from '@ulkret/contract';
import { cardOf } from '@ulkret/core/prescription';
import { Link, useParams } from 'react-router';
import { useMay } from '../api/may';
import { useApi } from '../api/use-api';
import { useKit } from '../device/kit';
import { useDeciding } from '../reader/use-deciding';
import { Button } from '../ui/button';
import { Head, Page, Quiet, Row } from '../ui/frame';
import { Nobody } from '../ui/nobody';
import { Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { CardLinks } from './CardLinks';
import { CardSheets, OnScreen } from './CardSheets';

/** What one student works on, for that student: to be shown, printed, or opened on their own phone by a link. */
export default function CardPage() {
  const { student: id = '' } = useParams();
  const kit = useKit();
  const drills = useApi(endpoints.drills);
  const deciding = useDeciding();
  const decides = useMay('coach');
  return (
    <Page>
      <Loaded of={kit} what="the roster">
        {({ students, techniques }) => {
          const student = students.find((one) => one.id === id);
          if (!student) return <Nobody />;
          const card = cardOf(
            student,
            deciding.lives(id),
            (life) => techniques.find(({ technique }) => technique.id === life.technique) ?? null,
            drills.data?.drills ?? [],
          );
          return (
            <>
              <Head>
                <div>
                  <Title>What {student.name} works on</Title>
                  {card.works.length > 0 && <Quiet>One thing at a time, most important first.</Quiet>}
                </div>
                <OnScreen>
                  <Row>
                    <Link to={`/people/${id}`}>{student.name}’s readings</Link>
                    <Button onPress={() => window.print()}>Print</Button>
                  </Row>
                </OnScreen>
              </Head>
              <Loaded of={deciding.told} what="the corrections">
                {() => (
                  <CardSheets
                    card={card}
                    none={
                      <p>
                        <Link to="/correct">Decide what to correct</Link> first.
                      </p>
                    }
                  />
                )}
              </Loaded>
              {decides && <CardLinks student={student} />}
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}
