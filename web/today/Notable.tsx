import { endpoints } from '@ulkret/contract';
import { Link } from 'react-router';
import { accessWords } from '../api/access-words';
import { useApi } from '../api/use-api';
import { Panel, Quiet } from '../ui/frame';
import { dayOf, timeOf } from '../ui/words';

/** For the head coach: what others took out, opened or closed in the last week; nothing where there is nothing. */
export function Notable() {
  const { data } = useApi(endpoints.notableAccesses);
  if (!data || data.accesses.length === 0) return null;
  return (
    <Panel>
      <h2>This week’s access</h2>
      <ul>
        {data.accesses.map((one) => (
          <li key={one.id}>
            <strong>{one.by}</strong> {accessWords(one)}{' '}
            <Quiet as="span">{`${dayOf(one.at)}, ${timeOf(one.at)}`}</Quiet>
          </li>
        ))}
      </ul>
      <Link to="/access-log">Access log</Link>
    </Panel>
  );
}
