import type { Breakdown, Id, Technique } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import type { Rep, Rung, SecondOpinion } from '@ulkret/core/rep';
import type { FactsByList, Void } from '@ulkret/core/facts';
import type { Session } from '@ulkret/core/session';
import { saidMore, wentOn } from './choices';
import { corrections } from './corrections';
import { type CauseStory, drillClass, maker, type Story, type Truth, truthOf } from './simulate';
import { squadOf } from './squad';
import { library } from './techniques';

/** Everything that one academy holds, ready to be written to a store. */
export interface AcademyData {
  academy: { id: Id; name: string; zone: string };
  coaches: { id: Id; name: string; email: string; role: 'head' | 'coach' | 'assistant' }[];
  students: Student[];
  techniques: { technique: Technique; editions: Breakdown[] }[];
  sessions: Session[];
  facts: Pick<FactsByList, 'reps' | 'voids' | 'tags' | 'looks' | 'steps'>;
}

/** The sign-in of the demo's head coach, shown on the sign-in page of a demo instance. */
export const demoSignIn = { email: 'coach@slipway.example', password: 'tap-early-tap-often' } as const;

export const newcomer = 'rosalba';
const classes = 14;
const dayMs = 86_400_000;

/** How often each checkpoint of the rear strangle breaks for a usual student at rung 2. */
const levels: Readonly<Record<Id, number>> = {
  'chest-to-back': 0.07,
  'hooks-inside': 0.07,
  'head-beside-head': 0.06,
  'arm-under-chin': 0.15,
  'hand-to-biceps': 0.08,
  'hand-behind-head': 0.2,
  'elbows-close': 0.1,
  'chest-expands': 0.07,
};

/**
 * And of the armlock: the coach gives the knees two fifths of the whole, but they seldom fail; the angle of the hips is
 * what breaks.
 */
const armlockLevels: Readonly<Record<Id, number>> = {
  'posture-broken': 0.12,
  'wrist-pinned': 0.1,
  'elbow-past-centre': 0.2,
  'hips-turned': 0.3,
  'clamp-high': 0.1,
  'leg-over-head': 0.06,
  'knees-together': 0.06,
  'hips-lifted': 0.08,
};
/** Classes, from 0, in which the armlock is drilled as well. */
const armlockLessons = new Set([2, 4, 6, 8, 10, 12]);

/** A lock on the ankle is for those whom the house lets drill it: neither the minor nor the newcomer is among them. */
const ankleLevels: Readonly<Record<Id, number>> = {
  'leg-trapped': 0.08,
  'hip-blocked': 0.15,
  'foot-in-armpit': 0.15,
  'wrist-on-tendon': 0.2,
  'hands-closed': 0.05,
  'shoulder-rolled': 0.12,
  'knees-pinch': 0.15,
  'back-arches': 0.1,
};
const ankleLessons = new Set([1, 3, 5, 7, 9, 11]);
const ankleSquad: ReadonlySet<Id> = new Set(['bastian', 'farid', 'jomo', 'katya', 'priya', 'quang']);
/** Who may drill it, and not yet spar with it; and the checkpoint that is to be corrected. */
export const restricted = { student: 'jomo', technique: 'ankle-lock', checkpoint: 'foot-in-armpit' } as const;
const ankleStory: Story = ({ student }, checkpoint) =>
  student.id === restricted.student && checkpoint === restricted.checkpoint ? 0.42 : null;

/** Class, from 0, at which Amara's grip is fixed. */
export const gripMendedAt = 7;

/**
 * What the data must contain. The first is the reason for the product: while Amara's arm is shallow, the hand behind the head is
 * seldom reached, so it hardly shows in a count of failures, although it breaks every second time.
 */
const stories: Story[] = [
  ({ student, lesson }, checkpoint) => {
    if (student.id !== 'amara') return null;
    if (checkpoint === 'arm-under-chin') return lesson < gripMendedAt ? 0.62 : 0.05;
    return checkpoint === 'hand-behind-head' ? 0.5 : null;
  },
  ({ student }, checkpoint) => (student.id === 'davor' && checkpoint === 'chest-expands' ? 0.48 : null),
  ({ student, side }, checkpoint) =>
    student.id === 'hana' && checkpoint === 'arm-under-chin' ? (side === 'right' ? 0.06 : 0.45) : null,
  ({ student, rung }, checkpoint) =>
    student.id === 'jomo' && checkpoint === 'hooks-inside' ? (rung <= 2 ? 0.04 : 0.5) : null,
  ({ student, partner }, checkpoint) =>
    student.id === 'chiara' && checkpoint === 'chest-to-back'
      ? partner.massKg! > student.massKg! * 1.05
        ? 0.42
        : 0.05
      : null,
];

/** Students with a story: further drilling would blur it. */
const storied = new Set(['amara', 'davor', 'hana', 'jomo', 'chiara']);

const causeStories: CauseStory[] = [
  ({ student }, checkpoint) =>
    student.id === 'davor' && checkpoint === 'chest-expands' ? 'pulls-upwards' : null,
  ({ student }, checkpoint) =>
    student.id === 'amara' && checkpoint === 'arm-under-chin' ? 'arm-shallow' : null,
  ({ rung }, checkpoint) => (checkpoint === 'hand-behind-head' && rung >= 2 ? 'peels-top-hand' : null),
];

/** Rungs of the two rounds of a class: resistance climbs through the term. */
const roundRungs = (lesson: number): Rung[] => (lesson < 4 ? [1, 2] : lesson < 9 ? [2, 2] : [2, 3]);

/** Days before the load on which each class was held: three a week, the last one yesterday. */
export const classDaysAgo = Array.from({ length: classes }, (_, i) => {
  const back = classes - 1 - i;
  return 1 + Math.floor(back / 3) * 7 + (back % 3) * 2;
});

/** The demo academy as of an instant (milliseconds since the epoch), the same for the same day and seed; and the truth behind it. */
export function demoAcademy(now: number, seed = 0.42): { data: AcademyData; truth: Truth } {
  const today = Math.floor(now / dayMs) * dayMs;
  const students = squadOf(today);
  const breakdownOf = (id: Id) => library.find(({ technique }) => technique.id === id)!.editions.at(-1)!;
  const breakdown = breakdownOf('rear-strangle');
  const armlock = breakdownOf('guard-armlock');
  const truth = truthOf(breakdown, students, seed, levels, stories, causeStories);
  const armlockTruth = truthOf(armlock, students, seed / 3, armlockLevels, [], []);
  const ankle = breakdownOf(restricted.technique);
  const ankleTruth = truthOf(ankle, students, seed / 4, ankleLevels, [ankleStory], []);
  const make = maker(seed / 2);
  const makeAnkle = maker(seed / 7);
  const coaches: AcademyData['coaches'] = [
    { id: 'maren', name: 'Maren', email: demoSignIn.email, role: 'head' },
    { id: 'teodor', name: 'Teodor', email: 'assistant@slipway.example', role: 'assistant' },
  ];
  const startOf = (daysAgo: number) => today - daysAgo * dayMs + 18.5 * 3_600_000;
  const endOf = (lesson: number) => startOf(classDaysAgo[lesson]!) + 100 * 60_000;
  const sessions: Session[] = [];
  const reps: Rep[] = [];
  const tags: FactsByList['tags'][number][] = [];
  classDaysAgo.forEach((daysAgo, lesson) => {
    const last = lesson === classes - 1;
    const present = students.filter(({ id }) => id !== newcomer && (id === 'amara' || make.chance() < 0.9));
    const start = startOf(daysAgo);
    const observers = coaches.map(({ id }) => id);
    // Every other class people change partners, so that a light one meets a heavy one.
    const pairing = lesson % 2 === 0 ? ('by mass' as const) : ('across' as const);
    const keep = (drilled: ReturnType<typeof drillClass>) => {
      sessions.push(drilled.session);
      reps.push(...drilled.reps);
      tags.push(...drilled.tags);
    };
    keep(
      drillClass(make, truth, breakdown, present, {
        lesson,
        start,
        rungs: roundRungs(lesson),
        repsPerSide: 6,
        observers,
        pairing,
      }),
    );
    if (armlockLessons.has(lesson)) {
      const drilled = drillClass(make, armlockTruth, armlock, present, {
        lesson,
        start: start + 50 * 60_000,
        rungs: [2],
        repsPerSide: 4,
        observers,
        pairing,
      });
      keep(drilled);
      const others = present.filter(({ id }) => !storied.has(id));
      const [here, there] = [
        { breakdown: armlock, truth: armlockTruth },
        { breakdown, truth },
      ];
      const how = { rung: 2 as const, lesson, observer: 'teodor' };
      reps.push(...wentOn(drilled.session, others, here, there, how, (seed + lesson / 97) % 1));
    }
    if (ankleLessons.has(lesson))
      keep(
        drillClass(
          makeAnkle,
          ankleTruth,
          ankle,
          students.filter(({ id }) => ankleSquad.has(id)),
          { lesson, start: start + 55 * 60_000, rungs: [2], repsPerSide: 3, observers: ['maren'] },
        ),
      );
    if (!last) return;
    const trial = students.filter(({ id }) => id === newcomer || id === 'eluned');
    keep(
      drillClass(make, truth, breakdown, trial, {
        lesson,
        start: start + 80 * 60_000,
        rungs: [1],
        repsPerSide: 2,
        observers: ['maren'],
        pairing: 'by mass',
      }),
    );
  });
  const said = saidMore(
    reps,
    tags,
    students,
    {
      breakdown,
      school: 'waist-triangle',
      task: ['two-on-one-wrist', 'shoulder-to-floor'],
      measured: 'arm-under-chin',
    },
    seed / 5,
  );
  const voids: Void[] = said
    .filter((_, i) => i % 487 === 486)
    .map((rep) => ({
      id: make.id(Date.parse(rep.at) + 5000),
      rep: rep.id,
      ofImport: false,
      at: new Date(Date.parse(rep.at) + 5000).toISOString(),
      observer: rep.observer,
    }));
  const data = {
    academy: {
      id: 'slipway',
      name: 'Slipway Grappling, Ossenhaven',
      // The made-up town is in the viewer's time zone.
      zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    },
    coaches,
    students,
    techniques: library,
    sessions,
    facts: {
      reps: said,
      tags,
      voids,
      looks: secondOpinions(make, breakdown.technique, reps, voids),
      steps: corrections(breakdown, said, endOf, make.id),
    },
  };
  return { data, truth };
}

/** The checkpoint whose criterion the two coaches read differently. */
export const disputed = 'elbows-close';

/**
 * What the assistant made of some of the head coach's reps. They agree on nearly everything, but not on whether the elbows
 * were close: where one sees a stop there, the other sees a finish, and the other way round.
 */
function secondOpinions(
  { chance, id }: ReturnType<typeof maker>,
  technique: Id,
  reps: readonly Rep[],
  voids: readonly Void[],
): SecondOpinion[] {
  const gone = new Set(voids.map(({ rep }) => rep));
  const seen = reps.filter(
    (rep) =>
      rep.technique === technique &&
      rep.observer === 'maren' &&
      rep.outcome !== 'not judged' &&
      !gone.has(rep.id),
  );
  return seen.flatMap((rep): SecondOpinion[] => {
    const stop = rep.outcome === 'stopped' ? rep.stop : null;
    const late = stop === disputed || stop === null;
    if (chance() > (late ? 0.16 : 0.03)) return [];
    const other =
      stop === disputed ? (chance() < 0.6 ? null : stop) : stop === null && chance() < 0.25 ? disputed : stop;
    const at = Date.parse(rep.at) + 86_400_000;
    return [{ id: id(at), rep: rep.id, stop: other, at: new Date(at).toISOString(), observer: 'teodor' }];
  });
}
