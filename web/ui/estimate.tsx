import { Quiet } from './frame';
import { percent, range } from './words';

/** A rate with the range in which it lies, 80 % sure. How many reps it is made of stands beside it, where they can be opened. */
export const Estimate = ({ of }: { of: { value: number; low: number; high: number } }) => (
  <>
    {percent(of.value)} <Quiet as="span">{range(of)}</Quiet>
  </>
);
