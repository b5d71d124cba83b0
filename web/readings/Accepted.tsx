import { type Breakdown, type Side, checkpointWords } from '@ulkret/core/breakdown';
import { signOff, signOffWords } from '@ulkret/core/prescription';
import { Link } from 'react-router';
import { useDeciding } from '../reader/use-deciding';
import { Quiet } from '../ui/frame';

/** A coach's decision about this student, accepted or declined, and the functions to decide. */
export function Accepted({
  student,
  breakdown,
  lead,
}: {
  student: string;
  breakdown: Breakdown;
  lead: Side;
}) {
  const { technique } = breakdown;
  const { life, declined } = useDeciding().of(student, technique);
  const point = (id: string) => checkpointWords(breakdown, id, lead);
  return (
    <Quiet>
      {life
        ? `Accepted: ${point(life.terms.checkpoint)} at rung ${life.terms.rung}, ${life.state}. ${signOffWords(signOff(life.held))} `
        : declined
          ? `A coach declined ${point(declined.checkpoint)} for now: ${declined.reason} `
          : 'No corrections yet. '}
      <Link to={`/correct?technique=${technique}`}>Decide</Link>
    </Quiet>
  );
}
