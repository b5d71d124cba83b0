import { Link } from 'react-router';
import { Empty } from './states';

/** In the place of a technique's breakdown, as long as it is only written and nobody has published it. */
export const NotPublished = ({ id }: { id: string }) => (
  <Empty title="Not published yet.">
    <p>
      Publish it to drill and read it: <Link to={`/library/${id}?edit=1`}>open the draft</Link>.
    </p>
  </Empty>
);
