import { Quiet } from './frame';
import { percent, range } from './words';

/** A rate with its 80 % interval. The number of reps is next to it, where it can be opened. */
export const Estimate = ({ of }: { of: { value: number; low: number; high: number } }) => (
  <>
    {percent(of.value)} <Quiet as="span">{range(of)}</Quiet>
  </>
);
