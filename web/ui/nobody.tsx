import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Empty } from './states';

/** Somebody whom the roster does not know: an old link, or one of another academy. */
export const Nobody = ({ or }: { or?: ReactNode }) => (
  <Empty title="Nobody on the roster has this address.">
    <p>
      Choose somebody under <Link to="/people">People</Link>
      {or && <>, or {or}</>}.
    </p>
  </Empty>
);
