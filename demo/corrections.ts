import type { Breakdown, Id } from '@ulkret/core/breakdown';
import { drillsFor, shippedDrills } from '@ulkret/core/drills';
import { betaEstimate } from '@ulkret/core/math';
import { saidAtRoot, type Step, type Stood, type Terms } from '@ulkret/core/prescription';
import type { Rep, Rung } from '@ulkret/core/rep';

/** Something agreed to in the evening after a class, counted from 0. */
interface Agreed {
  student: Id;
  first: Terms['first'];
  checkpoint: Id;
  rung: Rung;
  after: number;
}

/** One that worked, one that did not, one that lapsed, and two that are due to be looked at again. */
const agreed: readonly Agreed[] = [
  { student: 'amara', first: 'right', checkpoint: 'arm-under-chin', rung: 2, after: 6 },
  { student: 'mireille', first: 'right', checkpoint: 'arm-under-chin', rung: 2, after: 5 },
  { student: 'leif', first: 'right', checkpoint: 'hand-behind-head', rung: 2, after: 3 },
  { student: 'farid', first: 'right', checkpoint: 'hand-behind-head', rung: 3, after: 10 },
  { student: 'ilmari', first: 'right', checkpoint: 'head-beside-head', rung: 2, after: 10 },
];

const declined = {
  student: 'oisin',
  checkpoint: 'hand-behind-head',
  after: 11,
  reason: 'Not before the meet: he goes there with the armlock.',
};

/** The checkpoint that a coach would not have corrected, and whose it is. */
export const refused = declined;

/** A target of one in ten: common practice, and near what the squad’s best quarter does. */
const target = 0.1;

function termsFor(breakdown: Breakdown, { checkpoint, rung, first }: Agreed): Terms {
  const mistake = breakdown.mistakes.find(({ at }) => at === checkpoint) ?? null;
  const wanted = { checkpoint, mistake: mistake?.id ?? null, defence: null };
  const drill = drillsFor(shippedDrills, breakdown, wanted, rung)[0]?.drill.id ?? null;
  const dose = { rung, sides: 'both', first, reps: 10, sets: 2, startAt: null, endAt: null } as const;
  return { ...wanted, cue: mistake?.cue ?? '', drill, ...dose };
}

/** What the reps until then said of the checkpoint. */
function stoodAt(breakdown: Breakdown, reps: readonly Rep[], terms: Terms): Stood {
  const said = [...saidAtRoot([breakdown], reps, terms)];
  const failed = said.filter(({ held }) => !held).length;
  const hazard = betaEstimate({ a: 1 + failed, b: 1 + said.length - failed });
  return { reached: said.length, failed, hazard, target };
}

/** What was decided about corrections: by the head coach, in the hour after each class (`endOf`, milliseconds since the epoch). */
export function corrections(
  breakdown: Breakdown,
  reps: readonly Rep[],
  endOf: (lesson: number) => number,
  id: (at: number) => string,
): Step[] {
  const { technique, edition } = breakdown;
  const step = (student: Id, lesson: number, does: (before: readonly Rep[]) => Step['does']): Step => {
    const instant = endOf(lesson) + 30 * 60_000;
    const at = new Date(instant).toISOString();
    const before = reps.filter((rep) => rep.student === student && rep.at < at);
    return {
      id: id(instant),
      session: null,
      at,
      observer: 'maren',
      student,
      technique,
      edition,
      does: does(before),
    };
  };
  return [
    ...agreed.map((one) =>
      step(one.student, one.after, (before) => {
        const terms = termsFor(breakdown, one);
        return { is: 'accepted', terms, stood: stoodAt(breakdown, before, terms) };
      }),
    ),
    step(declined.student, declined.after, () => {
      const { checkpoint, reason } = declined;
      return { is: 'declined', checkpoint, reason };
    }),
  ];
}
