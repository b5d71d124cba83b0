import { endpoints } from '@ulkret/contract';
import { type Breakdown, causesAt, otherSide, placeOf, readFor } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type Rep, type Rung, rungNames, sameTurn, type Session, type Turn, turnOf } from '@ulkret/core/rep';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Button as AriaButton, Dialog, Modal, ModalOverlay } from 'react-aria-components';
import { Link, useParams } from 'react-router';
import { uuidv7 } from 'uuidv7';
import { syncWords } from '../offline/outbox';
import { useSyncState } from '../offline/use-outbox';
import { useApi } from '../shell/api';
import { useHere } from '../shell/signed-in';
import { Failed, Loading } from '../shell/states';
import { Button, Caution, Page } from '../shell/ui';
import { Strand } from '../strand/Strand';
import { Clock, type Clocked, stopped, toggled } from './Clock';
import { KnotButton } from './KnotButton';
import { matKeys, useMatKeys } from './keys';
import { Chips, FinishButton, Keys, Log, Mat, Stage, Tiles, Top, Voice } from './layout';
import { PairTile } from './PairTile';
import { RepMark } from './RepMark';
import { useSessionLog } from './session-log';
import { useRowHeight } from './use-row-height';

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
  const sync = useSyncState();
  const [active, setActive] = useState(0);
  const [rung, setRung] = useState<Rung>(session.rung);
  const [changed, setChanged] = useState<Turn | null>(null);
  const [soft, setSoft] = useState<ReadonlySet<string>>(new Set());
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
  const ids = breakdown.checkpoints.map(({ id }) => id);
  const first = session.from === null ? 0 : ids.indexOf(session.from);
  const last = session.to === null ? ids.length - 1 : ids.indexOf(session.to);
  const drilled = (place: number) => place >= first && place <= last;
  const unseen = new Set(ids.filter((_, place) => !drilled(place)));

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
    setSoft(new Set());
    setChanged(null);
    setAsking(ending.outcome === 'stopped' ? { rep: rep.id, place: ids.indexOf(ending.stop) } : null);
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
    setSoft(new Set());
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

  const latest = reps.slice(-5).reverse();
  return (
    <Mat>
      <Top>
        <Clock clock={clock} roundSeconds={session.roundSeconds} onToggle={actions.clock} />
        <div>
          <h1>{technique.name}</h1>
          <small>
            {session.from || session.to ? `checkpoints ${first + 1} to ${last + 1}` : 'whole'} ·{' '}
            <span data-testid="sync">{syncWords(sync)}</span>
          </small>
        </div>
        <Step label="Rung" value={`${rung}`} hint={rungNames[rung]}>
          <AriaButton aria-label="One rung down" onPress={() => actions.rung(-1)}>
            −
          </AriaButton>
          <AriaButton aria-label="One rung up" onPress={() => actions.rung(1)}>
            +
          </AriaButton>
        </Step>
        <AriaButton onPress={actions.changeSide}>
          <small>Lead </small>
          <strong>
            {turn.side}
            <VisuallyHidden elementType="span"> side: change</VisuallyHidden>
          </strong>
        </AriaButton>
        <AriaButton onPress={actions.swap}>
          <small>Swap </small>
          <strong>roles</strong>
        </AriaButton>
        <AriaButton aria-label="? Keys" className="wide" onPress={actions.help}>
          <strong>?</strong>
        </AriaButton>
        <Link to="/mat">Leave</Link>
      </Top>
      <Tiles aria-label="Pairs">
        {session.pairs.map((members, i) => (
          <PairTile
            key={members.join()}
            turn={i === active ? turn : turns[i]!}
            repsPerSide={session.repsPerSide}
            reps={repsOfPairs[i]!}
            active={i === active}
            nameOf={nameOf}
            numberOf={numberOf}
            onChoose={() => choosePair(i)}
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
          row={({ id }, place) => (
            <KnotButton
              place={place}
              title={readFor(breakdown.checkpoints[place]!.title, turn.side)}
              soft={soft.has(id)}
              disabled={!drilled(place)}
              indent={width}
              onStop={() => stopAt(place)}
              onSoft={() => soften(place)}
            />
          )}
        />
        <FinishButton onPress={actions.finish}>
          <svg width="44" height="44" viewBox="-22 -22 44 44" aria-hidden>
            <circle r="16" fill="none" stroke="currentColor" strokeWidth="6" />
          </svg>
          Finished
          <kbd>Enter</kbd>
        </FinishButton>
        {asking && (
          <Chips
            aria-label="Why did it stop?"
            role="group"
            $row={asking.place}
            $rows={ids.length}
            $rowHeight={rowHeight}
          >
            {causesAt(breakdown, ids[asking.place]!).map(({ id, kind, title }) => (
              <AriaButton
                key={id}
                onPress={() => {
                  add({
                    is: 'tag',
                    fact: { id: uuidv7(), rep: asking.rep, cause: id, at: now(), observer: coach.id },
                  });
                  setAsking(null);
                }}
              >
                {readFor(title, turn.side)}
                {kind === 'defence' && <small>defence</small>}
              </AriaButton>
            ))}
          </Chips>
        )}
      </Stage>
      <Log>
        {technique.loadSpeed === 'fast' && (
          <Caution note={`Comes on fast, so put it on slowly. ${technique.safetyNote}`} />
        )}
        <Voice role="status">{lost ?? (said || 'Tap early, release at once.')}</Voice>
        <ol aria-label="Last entries">
          {latest.map((rep) => (
            <li key={rep.id}>
              <RepMark rep={rep} numberOf={numberOf} />
              {nameOf(rep.student)}
              <AriaButton
                aria-label={`Undo ${nameOf(rep.student)} ${rep.outcome === 'stopped' ? `stopped at ${numberOf(rep.stop)}` : rep.outcome}`}
                onPress={() => undo(rep)}
              >
                Undo
              </AriaButton>
            </li>
          ))}
        </ol>
      </Log>
      <ModalOverlay isOpen={help} onOpenChange={setHelp} isDismissable className="overlay">
        <Modal>
          <Keys as={Dialog} aria-label="Keys of the Mat">
            <h2>Keys</h2>
            <dl>
              {matKeys.map(([key, what]) => (
                <div key={key}>
                  <dt>{key}</dt>
                  <dd>{what}</dd>
                </div>
              ))}
            </dl>
            <Button onPress={() => setHelp(false)}>Close</Button>
          </Keys>
        </Modal>
      </ModalOverlay>
    </Mat>
  );
}

function Step({
  label,
  value,
  hint,
  children,
}: {
  label: string;
  value: string;
  hint: string;
  children: React.ReactNode;
}) {
  return (
    <div role="group" aria-label={`${label} ${value}, ${hint}`} className="step">
      <span>
        <small>{label}</small>
        <strong data-testid="rung">{value}</strong>
      </span>
      {children}
    </div>
  );
}
