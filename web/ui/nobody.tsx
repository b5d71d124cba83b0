import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Empty } from './states';

/** Somebody whom the roster does not know: an old link, or one of another academy. */
export const Nobody = ({ or }: { or?: ReactNode }) => (
  <Empty title="Student not found.">
    <p>
      Choose one under <Link to="/people">People</Link>
      {or && <>, or {or}</>}.
    </p>
  </Empty>
);
