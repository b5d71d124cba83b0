import { otherSide, type Side } from '@ulkret/core/breakdown';
import type { Turn } from '@ulkret/core/session';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { useAct, useMatLate, useMatStore } from './use-mat';

/** The other turns of a pair, each one tap away: the other side, the next to attack on this side, and on the other. */
function turnsFrom(
  members: readonly string[],
  { student, side }: Pick<Turn, 'student' | 'side'>,
): { student: string; side: Side }[] {
  const next = members[(members.indexOf(student) + 1) % members.length]!;
  return [
    { student, side: otherSide(side) },
    ...(next === student
      ? []
      : [
          { student: next, side },
          { student: next, side: otherSide(side) },
        ]),
  ];
}

/** Each button says what it leads to: who attacks, on which side. */
export function TurnButtons() {
  const act = useAct();
  const { nameOf } = useMatStore().knows();
  const members = useMatLate(({ open }) => open?.view.members ?? null);
  const attacker = useMatLate(({ open }) => open?.view.turn.student ?? '');
  const on = useMatLate(({ open }) => open?.view.turn.side ?? 'right');
  return (
    members && (
      <div role="group" aria-label="Whose turn" className="turns">
        {turnsFrom(members, { student: attacker, side: on }).map(({ student, side }) => (
          <button
            key={`${student} ${side}`}
            type="button"
            onClick={() => act({ do: 'tap', tap: { do: 'attack', student, side } })}
          >
            <small>{nameOf(student)}</small>
            <VisuallyHidden elementType="span"> attacks, </VisuallyHidden>
            <strong>{side}</strong>
            <VisuallyHidden elementType="span"> side</VisuallyHidden>
          </button>
        ))}
      </div>
    )
  );
}
