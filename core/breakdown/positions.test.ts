import { describe, expect, test } from '@jest/globals';
import { sayingBreakdown } from '../test';
import { merged, Position, positionOf, positionsFrom, positionsNamed, renamed, shippedPositions } from '.';

const idOf = (text: string, list: readonly Position[] = shippedPositions) =>
  positionOf(text, list)?.id ?? null;

describe('positions', () => {
  test('that ship are at least thirty, each with an id and names of its own', () => {
    expect(shippedPositions.length).toBeGreaterThanOrEqual(30);
    for (const one of shippedPositions) {
      expect(Position.parse(one)).toEqual(one);
      for (const name of [one.id, one.name, ...one.aliases]) expect(idOf(name)).toBe(one.id);
    }
  });

  test('are found by any name, however it is written, and by none that nobody uses', () => {
    expect(['mount', ' Full Mount.', 'North-South', 'north–south'].map((text) => idOf(text))).toEqual([
      'mount',
      'mount',
      'north-south',
      'north-south',
    ]);
    expect(idOf('on a boat')).toBeNull();
    expect(idOf('')).toBeNull();
  });

  test('of an academy are its own, those that ship, and one for each text that names none', () => {
    const named = positionsNamed({ startPosition: 'Guard' }, sayingBreakdown());
    expect([...new Set(named)].sort()).toEqual(['Guard', 'guard']);
    const list = positionsFrom([], [...named, 'On a boat', 'on a boat.', 'Am Rand der Matte']);
    expect(list.length).toBe(shippedPositions.length + 2);
    expect(list.at(-2)).toMatchObject({ id: 'on-a-boat', name: 'On a boat', family: null });
    expect(idOf('ON A BOAT', list)).toBe('on-a-boat');
    // A sentence, or a dot, is no name of a place.
    const said = sayingBreakdown();
    said.defences[0]!.leaves.position = 'x'.repeat(200);
    said.defences[1]!.leaves.position = '.';
    expect(positionsNamed({ startPosition: 'Mount' }, said)).not.toContain('.');
    expect(positionsNamed({ startPosition: 'Mount' }, said).every((text) => text.length <= 80)).toBe(true);
    // An own one takes the place of the one that ships under its id.
    const own: Position = { ...shippedPositions[0]!, name: 'On two feet' };
    expect(positionsFrom([own], []).filter(({ id }) => id === own.id)).toEqual([own]);
  });

  test('that are merged are one, and are found by what either was called', () => {
    const [boat] = positionsFrom([], ['On a boat']).slice(-1);
    const mount = shippedPositions.find(({ id }) => id === 'mount')!;
    const { from, into } = merged(boat!, mount);
    const list = positionsFrom([from, into], ['On a boat']);
    expect(idOf('on a boat', list)).toBe('mount');
    expect(idOf(from.id, list)).toBe('mount');
    expect(into.aliases).toEqual([...mount.aliases, 'On a boat']);
    // Merged in a circle nothing hangs.
    const round = [
      { ...mount, mergedInto: 'back' },
      { ...mount, id: 'back', name: 'b', aliases: [], mergedInto: 'mount' },
    ];
    expect(['mount', 'back', null]).toContain(idOf('mount', round));
  });

  test('keep the name by which they were written down', () => {
    const mount = shippedPositions.find(({ id }) => id === 'mount')!;
    const after = renamed(mount, { ...mount, name: 'Sitting on top' });
    expect(idOf('Mount', [after])).toBe('mount');
    expect(renamed(mount, mount)).toBe(mount);
  });
});
