import { answersOf, type Breakdown, type Id, readFor, type Side, whenWords } from '@ulkret/core/breakdown';
import { type Begun, isDrilled, nothingBegun, pairingOfTurn, type SetTask } from '@ulkret/core/session';
import { choosable, chosenAfter, type WayAt } from '@ulkret/core/variants';
import { Chips } from './Causes';
import { useAct, useMat, useMatLate, useMatStore } from './use-mat';

interface NextProps {
  breakdown: Breakdown;
  side: Side;
  /** The partner's task; null where nothing is played. */
  set: SetTask | null;
  begun: Begun;
  /** Variants of a situation, which only a tap decides. */
  situations: readonly WayAt[];
  /** The variants that were chosen: they stay until they are tapped again. */
  chosen: ReadonlySet<Id>;
  /** Can the rep go through to one of several finishes? */
  finishes: boolean;
  onMeet: (defence: Id, answer: Id | null) => void;
  onCall: () => void;
  onSituation: (variant: Id) => void;
  onFinish: (finish: Id) => void;
}

/** What can be said of the open pair's next rep by one tap; nothing where there is nothing to say. */
export function NextRep() {
  const store = useMatStore();
  const act = useAct();
  const breakdown = useMat(({ open }) => open?.breakdown ?? null);
  const technique = useMat(({ open }) => open?.technique ?? null);
  const begun = useMat(({ open, state }) => (open && state.begun.get(open.view.key)) ?? nothingBegun);
  const view = useMatLate(({ open }) => open?.view ?? null);
  if (!breakdown || !technique || !view) return null;
  const { members, span, turn } = view;
  const isHere = (checkpoint: Id | undefined) =>
    checkpoint !== undefined && isDrilled({ breakdown, span }, checkpoint);
  const set = view.carried === null && view.own.task?.task.length ? view.own.task : null;
  const { chosen, ...pairing } = pairingOfTurn(store.now().common, members, turn, technique);
  const situations = choosable(breakdown, { chosen, ...pairing }).filter(
    ({ checkpoint, variant }) => variant.when.on === 'situation' && isHere(checkpoint),
  );
  const finishes =
    begun.tapping !== 'not judged' &&
    (breakdown.finishes ?? []).length > 0 &&
    isHere(breakdown.checkpoints.at(-1)?.id);
  if (!set && situations.length === 0 && !finishes && begun.met.size === 0) return null;
  return (
    <Said
      {...{ breakdown, set, begun, situations, chosen, finishes }}
      side={turn.side}
      onMeet={(defence, answer) => act({ do: 'meet', defence, answer })}
      onCall={() => act({ do: 'call', draw: Math.random() })}
      onSituation={(variant) =>
        act({
          do: 'change',
          set: { is: 'ways', pair: [...members], ways: chosenAfter(breakdown, chosen, variant) },
        })
      }
      onFinish={(finish) => act({ do: 'tap', tap: { do: 'ring', finish }, finger: true })}
    />
  );
}

/**
 * What can be said of the next rep by one tap, in the lane of the causes while nothing is asked there: the situation, what the
 * partner plays and what was done about it, and which finish ends it.
 */
function Said(props: NextProps) {
  const { breakdown, side, set, situations, chosen, finishes, onCall, begun } = props;
  const ranked = [...(breakdown.finishes ?? [])].sort((a, b) => (a.rank ?? 99) - (b.rank ?? 99));
  return (
    <Chips role="group" aria-label="About the next rep" data-played style={{ top: 5 }}>
      {situations.map(({ variant }) => (
        <button
          key={variant.id}
          type="button"
          aria-pressed={chosen.has(variant.id)}
          onClick={() => props.onSituation(variant.id)}
        >
          <span>{readFor(variant.name || whenWords(variant.when), side)}</span>
        </button>
      ))}
      {set?.called && (
        <button type="button" onClick={onCall}>
          {begun.called === null ? 'Call one' : 'Call again'}
        </button>
      )}
      <Played {...props} />
      {finishes &&
        ranked.map(({ id, title }) => (
          <button key={id} type="button" onClick={() => props.onFinish(id)}>
            <span>◯ {readFor(title, side)}</span>
          </button>
        ))}
    </Chips>
  );
}

/** What the partner plays: one tap says that it was met and answered; a second one, that the answer did not work. */
function Played({
  breakdown,
  side,
  set,
  begun,
  onMeet,
}: Pick<NextProps, 'breakdown' | 'side' | 'set' | 'begun' | 'onMeet'>) {
  const played = set ? (set.called ? (begun.called === null ? [] : [begun.called]) : set.task) : [];
  // What a defence became is met as well.
  const shown = new Set([
    ...played,
    ...begun.met.keys(),
    ...[...begun.met.values()].flatMap(({ became }) => became ?? []),
  ]);
  const titleOf = (id: Id | undefined) => breakdown.defences.find((one) => one.id === id)?.title ?? '';
  return breakdown.defences
    .filter(({ id }) => shown.has(id))
    .flatMap((defence) => {
      const met = begun.met.get(defence.id);
      const answers = answersOf(defence).map((one) => ({
        id: one.id as Id | null,
        // One that leads elsewhere takes the pair there at once: it says so.
        how: one.do === 'switch' ? `${one.how} →` : one.how,
      }));
      return (answers.length > 0 ? answers : [{ id: null, how: 'answered' }]).map(({ id, how }) => {
        const pressed = met !== undefined && met.answer === id;
        const became = pressed && met.became !== undefined;
        return (
          <button
            key={`${defence.id} ${id}`}
            type="button"
            aria-pressed={pressed}
            data-lost={(pressed && !met.worked) || undefined}
            onClick={() => onMeet(defence.id, id)}
          >
            <span>
              {pressed && (met.worked ? '✓ ' : became ? '→ ' : '✗ ')}
              {readFor(defence.title, side)}: {readFor(became ? `became ${titleOf(met.became)}` : how, side)}
            </span>
          </button>
        );
      });
    });
}
