import { Link } from 'react-router';
import { Empty } from './states';

/** In the place of a technique's breakdown, as long as it is only written and nobody has published it. */
export const NotPublished = ({ id }: { id: string }) => (
  <Empty title="Nothing is published of this technique yet.">
    <p>
      It can be drilled and read once it is: <Link to={`/library/${id}?edit=1`}>open the draft</Link>.
    </p>
  </Empty>
);
