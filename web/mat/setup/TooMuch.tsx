import type { TooMuch as Over } from '@ulkret/core/session';
import { Button } from '../../ui/button';
import { Row } from '../../ui/frame';
import { many } from '../../ui/words';

/** How many names are written out; the others are counted. */
const mostNames = 3;

/** A dose that may pass a cap, said before the class, with the largest dose that does not. */
export function TooMuch({
  of,
  repsPerSide,
  nameOf,
  onDose,
  onEntry,
}: {
  of: readonly Over[];
  repsPerSide: number;
  nameOf: (id: string) => string;
  onDose: (repsPerSide: number) => void;
  onEntry: () => void;
}) {
  const [worst, ...others] = [...of].sort((a, b) => a.stays - b.stays);
  if (!worst) return null;
  const { cap, finishes, stays } = worst;
  const names = [worst, ...others].slice(0, mostNames).map(({ person }) => nameOf(person));
  const more = of.length - names.length;
  return (
    <li>
      <strong>{repsPerSide} a side may pass a cap.</strong> That is up to{' '}
      {many(finishes, 'finish', 'finishes')} on one person; the rules allow {cap.cap} {cap.counts} a day
      {cap.spent > 0 && `, and ${nameOf(worst.person)} has had ${cap.spent}`}: {names.join(', ')}
      {more > 0 && ` and ${more} more`}.
      <Row>
        {stays > 0 ? (
          <Button $quiet onPress={() => onDose(stays)}>
            {stays} a side instead
          </Button>
        ) : (
          <Button $quiet onPress={onEntry}>
            The entry alone instead
          </Button>
        )}
      </Row>
    </li>
  );
}
