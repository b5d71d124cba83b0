import type { Breakdown, Id } from '@ulkret/core/breakdown';
import type { Posterior } from '@ulkret/core/hazard';
import type { Student } from '@ulkret/core/people';
import { decide, decidedBy, type Decision, fallsFrom, knownOf } from '@ulkret/core/prescription';
import {
  type Agreement,
  type Cell,
  type ChoicesReading,
  fitAcademy,
  fold,
  fullReadingSteps,
  type Method,
  modelVersion,
  plainReading,
  type ReadingSettings,
  type Slice,
  ratesOf,
  type SquadRates,
  type SquadReading,
  weekOf,
} from '@ulkret/core/reading';
import { rulesOf } from '../care/rules';
import { LRUCache } from 'lru-cache';
import type { Db } from '../db/connect';
import { latestEdition, latestEditions, technique as techniqueOf } from '../library/techniques';
import { mainSidesOf, roster } from '../people/roster';
import { drillsOf } from '../library/drills';
import { followed } from '../prescriptions/lifecycles';
import { rested } from '../rested';
import { fitOf, keepFit } from './fits';
import { refreshTallies, talliesOf, weekBeginsOf } from './tallies';
import { versionOf } from '../signals/version';
import {
  agreementOn,
  answersTried,
  choicesAmong,
  type Evidence,
  evidenceAmong,
  type WhichReps,
} from './rep-by-rep';
import { type Period, type Window, windowOf } from './window';

/** A request for a reading. */
export interface ReadingRequest extends Period {
  technique: Id;
  method: Method;
  slice: Slice;
  /** By the plain method where the full reading is not made yet. */
  now?: boolean;
}

/** The parts of a reading that are cached. */
interface Made {
  reading: SquadReading;
  people: ReadonlyMap<Id, Student>;
}

export interface SquadRead extends Made {
  breakdown: Breakdown;
  settings: ReadingSettings;
}

export interface RatesRead extends SquadRates {
  settings: ReadingSettings;
}

export interface Decided {
  technique: Id;
  edition: number;
  decisions: Decision[];
}

/** The questions that a reader answers: a new one is its method, and its name here. */
export const questions = ['read', 'rates', 'cells', 'evidence', 'decide', 'choices', 'agreement'] as const;
export type Question = (typeof questions)[number];

/** The interface for readings, wherever they are computed. */
export type Readings = Pick<Reader, Question>;

/** An academy's cells in a window, of one technique or of all. */
async function cellsOf(db: Db, academyId: Id, window: Window, technique?: Id): Promise<Cell[]> {
  const since = window.since ?? undefined;
  const until = weekOf(window.asOf, window.weekBegins);
  const tallies = await talliesOf(db, academyId, { technique, since, until });
  return fold(tallies, { ...window, since });
}

/** Values by name, up to a limit: the least recently used one goes. A failed value is not kept. */
class Cache<T> {
  private readonly values: LRUCache<string, { value: Promise<T>; ready: boolean }>;
  constructor(max: number) {
    this.values = new LRUCache({ max });
  }

  of(name: string, make: () => Promise<T>): Promise<T> {
    const known = this.values.get(name);
    if (known) return known.value;
    const made = { value: make(), ready: false };
    this.values.set(name, made);
    made.value.then(
      () => (made.ready = true),
      () => this.values.delete(name),
    );
    return made.value;
  }

  /** Can it be answered without waiting? */
  has(name: string): boolean {
    return this.values.peek(name)?.ready ?? false;
  }
}

const dayMs = 86_400_000;
const mostPosteriors = 12;
const mostReadings = 60;

/**
 * Reads for every caller. An academy's model is fitted once, and each reading is made once, until a rep, a person or
 * an edition changes it; repeated questions get the same answer. Any number may run in parallel; their caches can be
 * made again.
 */
export class Reader {
  private readonly posteriors = new Cache<Posterior>(mostPosteriors);
  private readonly readings = new Cache<Made>(mostReadings);

  constructor(private readonly db: Db) {}

  /** The reading of a technique; null where the library has no edition of it. */
  async read(academyId: Id, asked: ReadingRequest): Promise<SquadRead | null> {
    const { technique, slice, now = false, ...period } = asked;
    const breakdown = await latestEdition(this.db, academyId, technique);
    if (!breakdown) return null;
    const window = windowOf(period, await weekBeginsOf(this.db, academyId));
    const name = await this.nameOf(academyId, window);
    const named = (by: Method) => `${name} ${technique} ${breakdown.edition} ${by} ${JSON.stringify(slice)}`;
    const method = now && !this.readings.has(named('full')) ? 'plain' : asked.method;
    const made = await this.readings.of(named(method), () =>
      this.make(academyId, { breakdown, method, slice, period, window, name }),
    );
    return { ...made, breakdown, settings: { model: modelVersion, method, slice, ...window } };
  }

  /** The rates alone of that reading. */
  async rates(academyId: Id, asked: ReadingRequest): Promise<RatesRead | null> {
    const made = await this.read(academyId, asked);
    return made && { ...ratesOf(made.breakdown, made.reading), settings: made.settings };
  }

  /** What to correct first for everybody on a technique; null where the library has no edition of it. */
  async decide(academyId: Id, technique: Id): Promise<Decided | null> {
    const { method, slice, weeks } = decidedBy;
    const made = await this.read(academyId, { technique, method, slice, weeks });
    if (!made) return null;
    const { breakdown, reading, people } = made;
    const found = (await techniqueOf(this.db, academyId, technique))!;
    const rules = await rulesOf(this.db, academyId);
    const circumstances = { rules, today: new Date().toISOString().slice(0, 10) };
    const now = new Date().toISOString();
    const { since } = made.settings;
    const [drills, all, answers] = await Promise.all([
      drillsOf(this.db, academyId),
      followed(this.db, academyId, {}, now),
      answersTried(this.db, academyId, technique, since),
    ]);
    const falls = fallsFrom(
      all.flatMap(({ lives, worked }) => lives.all.map((life, i) => ({ life, worked: worked[i]! }))),
      drills,
    );
    const livesBy = new Map(
      all.filter((one) => one.technique === technique).map(({ student, lives }) => [student, lives]),
    );
    const decisions = decide(breakdown, reading, (student) => {
      const person = people.get(student);
      const lives = livesBy.get(student);
      return {
        ...(person ? knownOf(person, found.technique, circumstances) : { mainSide: 'right' as const }),
        drills,
        falls,
        answers,
        ...(lives && {
          declined: new Set(lives.declined.keys()),
          signedOff: lives.signedOff,
          inWork: lives.current,
        }),
      };
    });
    return { technique, edition: breakdown.edition, decisions };
  }

  /** An academy's cells in a window, of one technique or of all. */
  cells(academyId: Id, window: Window, technique?: Id): Promise<Cell[]> {
    return cellsOf(this.db, academyId, window, technique);
  }

  /** The reps behind a number; null where the library has no edition of the technique. */
  evidence(academyId: Id, of: WhichReps, checkpoint: Id, skip: number): Promise<Evidence | null> {
    return evidenceAmong(this.db, academyId, of, checkpoint, skip);
  }

  /** What was chosen on a technique; null where the library has no edition of it. */
  choices(academyId: Id, of: WhichReps): Promise<ChoicesReading | null> {
    return choicesAmong(this.db, academyId, of);
  }

  /** How well coaches agree about its reps; null where the library has no edition of it. */
  agreement(academyId: Id, technique: Id): Promise<Agreement | null> {
    return agreementOn(this.db, academyId, technique);
  }

  /** Names what a reading of some weeks is made of: it changes when the facts do, and when the week is over. */
  private async nameOf(academyId: Id, { asOf, since, weekBegins, halfLifeDays }: Window): Promise<string> {
    await refreshTallies(this.db, academyId);
    const week = weekOf(asOf, weekBegins);
    return [academyId, await versionOf(this.db, academyId), week, since, halfLifeDays].join(' ');
  }

  private async make(
    academyId: Id,
    of: { breakdown: Breakdown; method: Method; slice: Slice; period: Period; window: Window; name: string },
  ): Promise<Made> {
    const { breakdown, method, slice, window } = of;
    const [cells, people] = await Promise.all([
      cellsOf(this.db, academyId, window, breakdown.technique),
      roster(this.db, academyId),
    ]);
    const mainSides = new Map(people.map(({ id, mainSide }) => [id, mainSide]));
    const question = { breakdown, cells, slice, mainSides };
    const reading =
      method === 'plain'
        ? plainReading(question)
        : await rested(
            fullReadingSteps(
              question,
              await this.posteriors.of(of.name, () => this.fit(academyId, of.period, window)),
            ),
          );
    return { reading, people: new Map(people.map((one) => [one.id, one])) };
  }

  /**
   * The model of the whole academy. The scales of the last day's fit to the usual weeks are used again, because they move
   * slowly and searching for them is most of the work; all else is always of the reps as they stand.
   */
  private async fit(academyId: Id, period: Period, window: Window): Promise<Posterior> {
    const asOften = period.asOf === undefined && window.halfLifeDays === decidedBy.halfLifeDays;
    const [cells, mainSides, latest, kept] = await Promise.all([
      cellsOf(this.db, academyId, window),
      mainSidesOf(this.db, academyId),
      latestEditions(this.db, academyId),
      asOften ? fitOf(this.db, academyId) : null,
    ]);
    const fresh =
      kept !== null && kept.model === modelVersion && Date.now() - Date.parse(kept.madeAt) < dayMs;
    const known = { breakdowns: latest.values(), ...(fresh && { at: kept.scales }) };
    const posterior = await rested(fitAcademy(cells, mainSides, known));
    if (asOften && period.weeks === decidedBy.weeks && !fresh)
      await keepFit(this.db, academyId, modelVersion, posterior.mode.scales);
    return posterior;
  }
}
