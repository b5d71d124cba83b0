import { endpoints } from '@ulkret/contract';
import { type Breakdown, causesAt, otherSide, placeOf, readFor } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type Rep, type Rung, sameTurn, type Session, type Turn, turnOf } from '@ulkret/core/rep';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { uuidv7 } from 'uuidv7';
import { useApi } from '../shell/api';
import { useHere } from '../shell/signed-in';
import { Failed, Loading } from '../shell/states';
import { Page } from '../shell/ui';
import { type Knot, Strand } from '../strand/Strand';
import { afterPaint } from './after-paint';
import { Bar } from './Bar';
import { type Clocked, stopped, toggled } from './clocked';
import { Finish } from './Finish';
import { KeyList } from './KeyList';
import { KnotButton } from './KnotButton';
import { useMatKeys } from './keys';
import { Chips, Mat, Stage, Tiles } from './layout';
import { LogBar } from './LogBar';
import { PairTile } from './PairTile';
import { useSessionLog } from './session-log';
import { useRowHeight } from './use-row-height';

const none: ReadonlySet<string> = new Set();

/** How long a stop asks for its cause. */
const askForMs = 7000;

export default function LivePage() {
  const { session: id = '' } = useParams();
  const log = useSessionLog(id);
  const technique = useApi(endpoints.technique, log.session && { params: { id: log.session.technique } }, {
    revalidateOnFocus: false,
  });
  const students = useApi(endpoints.students, {}, { revalidateOnFocus: false });
  const breakdown = technique.data?.editions.find(({ edition }) => edition === log.session?.edition);
  const error = technique.error ?? students.error ?? log.error;
  if (log.session && breakdown && students.data && technique.data)
    return (
      <Live
        log={{ ...log, session: log.session }}
        breakdown={breakdown}
        technique={technique.data.technique}
        students={students.data.students}
      />
    );
  return (
    <Page>
      {error ? <Failed error={error} retry={() => void log.retry()} /> : <Loading what="the mat" />}
    </Page>
  );
}

interface LiveProps {
  log: Omit<ReturnType<typeof useSessionLog>, 'session'> & { session: Session };
  breakdown: Breakdown;
  technique: { name: string; loadSpeed: 'slow' | 'fast'; safetyNote: string };
  students: readonly Student[];
}

/** The stop that asks why it happened. */
interface Asking {
  rep: string;
  place: number;
}

function Live({ log, breakdown, technique, students }: LiveProps) {
  const { session, reps, add, lost } = log;
  const { coach } = useHere();
  const [active, setActive] = useState(0);
  const [rung, setRung] = useState<Rung>(session.rung);
  const [changed, setChanged] = useState<Turn | null>(null);
  const [soft, setSoft] = useState<ReadonlySet<string>>(none);
  const [asking, setAsking] = useState<Asking | null>(null);
  const [clock, setClock] = useState<Clocked>(stopped);
  const [said, setSaid] = useState('');
  const [help, setHelp] = useState(false);
  const stage = useRef<HTMLDivElement>(null);
  const { rowHeight, width } = useRowHeight(stage, breakdown.checkpoints.length);

  const names = useMemo(() => new Map(students.map(({ id, name }) => [id, name])), [students]);
  const nameOf = useCallback((id: string) => names.get(id) ?? id, [names]);
  const numberOf = useCallback((checkpoint: string) => placeOf(breakdown, checkpoint) + 1, [breakdown]);
  const repsOfPairs = useMemo(() => {
    const pairOf = new Map(session.pairs.flatMap((pair, i) => pair.map((student) => [student, i] as const)));
    const groups: Rep[][] = session.pairs.map(() => []);
    for (const rep of reps) groups[pairOf.get(rep.student) ?? -1]?.push(rep);
    return groups;
  }, [session.pairs, reps]);
  const turns = useMemo(
    () => session.pairs.map((pair, i) => turnOf(pair, repsOfPairs[i]!, session.repsPerSide)),
    [session.pairs, session.repsPerSide, repsOfPairs],
  );
  const pair = session.pairs[active]!;
  const turn = changed ?? turns[active]!;
  const ids = useMemo(() => breakdown.checkpoints.map(({ id }) => id), [breakdown]);
  const first = session.from === null ? 0 : ids.indexOf(session.from);
  const last = session.to === null ? ids.length - 1 : ids.indexOf(session.to);
  const drilled = (place: number) => place >= first && place <= last;
  const unseen = useMemo(
    () => new Set(ids.filter((_, place) => place < first || place > last)),
    [ids, first, last],
  );

  useEffect(() => {
    if (!asking) return;
    const timer = setTimeout(() => setAsking(null), askForMs);
    return () => clearTimeout(timer);
  }, [asking]);

  const now = () => new Date().toISOString();
  const sayTurn = (next: Turn) =>
    setSaid(
      `${nameOf(next.student)} attacks${next.partner ? ` ${nameOf(next.partner)}` : ''}, ${next.side} side`,
    );

  const logRep = (ending: { outcome: 'finished' } | { outcome: 'stopped'; stop: string }) => {
    const rep: Rep = {
      ...{
        id: uuidv7(),
        session: session.id,
        at: now(),
        technique: breakdown.technique,
        edition: breakdown.edition,
      },
      ...{
        student: turn.student,
        partner: turn.partner,
        side: turn.side,
        rung,
        from: session.from,
        to: session.to,
      },
      ...{ soft: [...soft], cause: null, observer: coach.id, source: 'mat', note: '' },
      ...ending,
    };
    add({ is: 'rep', fact: rep });
    setSoft(none);
    setChanged(null);
    const asked = ending.outcome === 'stopped' ? { rep: rep.id, place: ids.indexOf(ending.stop) } : null;
    afterPaint(() => setAsking(asked));
    const next = turnOf(pair, [...repsOfPairs[active]!, rep], session.repsPerSide);
    if (sameTurn(next, turn)) setSaid('');
    else sayTurn(next);
  };
  const stopAt = (place: number) => {
    const stop = ids[place];
    if (stop && drilled(place)) logRep({ outcome: 'stopped', stop });
  };
  const soften = (place: number) => {
    const id = ids[place];
    if (!id || !drilled(place)) return;
    setSoft((marked) => new Set(marked.has(id) ? [...marked].filter((one) => one !== id) : [...marked, id]));
  };
  const undo = (rep: Rep | undefined) => {
    if (!rep) return;
    add({ is: 'void', fact: { id: uuidv7(), rep: rep.id, at: now(), observer: coach.id } });
    setAsking(null);
    setSaid(
      `Undone: ${nameOf(rep.student)}, ${rep.outcome === 'stopped' ? `stopped at ${numberOf(rep.stop)}` : rep.outcome}`,
    );
  };
  const changeTurn = (next: Turn) => {
    setChanged(next);
    sayTurn(next);
  };
  const choosePair = (place: number) => {
    setActive(place);
    setChanged(null);
    setSoft(none);
    setAsking(null);
  };
  const actions = {
    stopAt,
    soften,
    finish: () => logRep({ outcome: 'finished' }),
    pair: (step: 1 | -1) => choosePair((active + step + session.pairs.length) % session.pairs.length),
    swap: () => {
      const next = pair[(pair.indexOf(turn.student) + 1) % pair.length]!;
      changeTurn({
        ...turn,
        student: next,
        partner: pair.length > 1 ? pair[(pair.indexOf(next) + 1) % pair.length]! : null,
        done: 0,
      });
    },
    changeSide: () => changeTurn({ ...turn, side: otherSide(turn.side), done: 0 }),
    rung: (step: 1 | -1) => setRung((at) => Math.min(4, Math.max(0, at + step)) as Rung),
    clock: () => setClock((at) => toggled(at, Date.now(), session.roundSeconds * 1000)),
    undo: () => undo(reps.at(-1)),
    help: () => setHelp((open) => !open),
  };
  useMatKeys(actions);
  // What the tiles and knots are given never changes, so that a tap redraws only what it changed.
  const latestActions = useRef({ ...actions, choosePair, undoRep: undo });
  useLayoutEffect(() => {
    latestActions.current = { ...actions, choosePair, undoRep: undo };
  });
  const onStop = useCallback((place: number) => latestActions.current.stopAt(place), []);
  const onFinish = useCallback(() => latestActions.current.finish(), []);
  const onSoft = useCallback((place: number) => latestActions.current.soften(place), []);
  const onUndo = useCallback((rep: Rep) => latestActions.current.undoRep(rep), []);
  const onChoose = useCallback((place: number) => latestActions.current.choosePair(place), []);

  const { side } = turn;
  const row = useCallback(
    ({ id }: Knot, place: number) => (
      <KnotButton
        place={place}
        title={readFor(breakdown.checkpoints[place]!.title, side)}
        soft={soft.has(id)}
        disabled={unseen.has(id)}
        indent={width}
        onStop={onStop}
        onSoft={onSoft}
      />
    ),
    [breakdown, side, soft, unseen, width, onStop, onSoft],
  );
  return (
    <Mat>
      <Bar
        technique={technique}
        span={session.from || session.to ? `checkpoints ${first + 1} to ${last + 1}` : 'whole'}
        clock={clock}
        roundSeconds={session.roundSeconds}
        rung={rung}
        side={turn.side}
        on={latestActions}
      />
      <Tiles aria-label="Pairs">
        {session.pairs.map((members, i) => (
          <PairTile
            key={members.join()}
            place={i}
            turn={i === active ? turn : turns[i]!}
            repsPerSide={session.repsPerSide}
            reps={repsOfPairs[i]!}
            active={i === active}
            nameOf={nameOf}
            numberOf={numberOf}
            onChoose={onChoose}
          />
        ))}
      </Tiles>
      <Stage ref={stage}>
        <Strand
          label={`${nameOf(turn.student)} attacks on the ${turn.side}: tap where the rep stopped`}
          knots={breakdown.checkpoints}
          soft={soft}
          unseen={unseen}
          rowHeight={rowHeight}
          width={width}
          row={row}
        />
        <Finish onFinish={onFinish} />
        {asking && (
          <Chips
            aria-label="Why did it stop?"
            role="group"
            style={
              asking.place < ids.length / 2
                ? { top: asking.place * rowHeight + 5 }
                : { top: (asking.place + 1) * rowHeight, translate: '0 -100%' }
            }
          >
            {causesAt(breakdown, ids[asking.place]!).map(({ id, kind, title }) => (
              <button
                key={id}
                type="button"
                onClick={() => {
                  add({
                    is: 'tag',
                    fact: { id: uuidv7(), rep: asking.rep, cause: id, at: now(), observer: coach.id },
                  });
                  setAsking(null);
                }}
              >
                {readFor(title, turn.side)}
                {kind === 'defence' && <small>defence</small>}
              </button>
            ))}
          </Chips>
        )}
      </Stage>
      <LogBar reps={reps} said={lost ?? said} nameOf={nameOf} numberOf={numberOf} onUndo={onUndo} />
      {help && <KeyList close={actions.help} />}
    </Mat>
  );
}
