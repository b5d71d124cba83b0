import { describe, expect, test } from '@jest/globals';
import { Batch, type Endpoint, endpoints, largestBatch, openApi } from '.';

const all = Object.entries(endpoints) as [string, Endpoint][];

describe('the contract', () => {
  test('gives every path one meaning', () => {
    const keys = all.map(([, { method, path }]) => `${method} ${path}`);
    expect(new Set(keys).size).toBe(keys.length);
  });

  test('keeps the paths that others rely on', () => {
    const keys = all.map(([, { method, path }]) => `${method} ${path}`);
    expect(keys).toEqual(
      expect.arrayContaining([
        'get /api/health',
        'post /api/session',
        'get /api/techniques',
        'get /api/techniques/:id',
        'get /api/students',
        'post /api/reps',
        'post /api/import/reps',
        'get /api/readings',
      ]),
    );
  });

  test('opens only what a stranger needs', () => {
    expect(
      all
        .filter(([, { who }]) => who === 'anyone')
        .map(([name]) => name)
        .sort(),
    ).toEqual([
      'acceptInvitation',
      'breakdownSchema',
      'challenge',
      'firstCoach',
      'health',
      'openCard',
      'openInvitation',
      'session',
      'signIn',
      'signInByPasskey',
      'signOut',
    ]);
  });

  test('names in its path just the parameters that it checks', () => {
    for (const [name, { path, params }] of all) {
      const inPath = [...path.matchAll(/:(\w+)/g)].map(([, key]) => key);
      const checked = Object.keys((params as unknown as { shape: object }).shape);
      expect([name, checked]).toEqual([name, inPath]);
    }
  });

  test('reads a rung from the address as a number, and refuses one that is none', () => {
    const { query } = endpoints.readings;
    expect(query.parse({ technique: 'x', rung: '3' })).toEqual({ technique: 'x', rung: 3 });
    expect(query.safeParse({ technique: 'x', rung: '5' }).success).toBe(false);
    expect(query.safeParse({ technique: 'x', rung: '2.5' }).success).toBe(false);
    expect(query.safeParse({ technique: 'No Such Id' }).success).toBe(false);
  });

  test('takes a batch with any of its lists left out, and none that is too large', () => {
    expect(Batch.parse({ reps: [{ id: 'x' }] })).toEqual({
      reps: [{ id: 'x' }],
      steps: [],
      voids: [],
      tags: [],
      looks: [],
      notes: [],
      overrides: [],
      changes: [],
    });
    const half = Array.from({ length: largestBatch / 2 + 1 }, () => ({ id: 'x' }));
    expect(Batch.safeParse({ reps: half, voids: half }).success).toBe(false);
    // What is no fact at all is refused on its own, and never costs another.
    expect(Batch.safeParse({ reps: ['x'] }).success).toBe(true);
    expect(Batch.safeParse({ reps: Array(largestBatch + 1).fill(1) }).error?.issues).toHaveLength(1);
  });
});

describe('the OpenAPI page', () => {
  const { paths } = openApi(Object.fromEntries(all), '1.2.3');

  test('tells parameters, bodies and answers of every path', () => {
    const readings = paths['/api/readings']!['get'] as {
      parameters: { name: string; in: string; required: boolean }[];
    };
    expect(readings.parameters.map(({ name, required }) => [name, required])).toEqual([
      ['technique', true],
      ['method', false],
      ['halfLife', false],
      ['asOf', false],
      ['weeks', false],
      ['rung', false],
      ['side', false],
      ['partner', false],
      ['now', false],
      ['student', false],
      ['prescriptions', false],
    ]);
    const student = paths['/api/students/{id}']!['put'] as {
      parameters: object[];
      requestBody: { content: object };
    };
    expect(student.parameters).toMatchObject([{ name: 'id', in: 'path', required: true }]);
    expect(Object.keys(student.requestBody.content)).toEqual(['application/json']);
  });

  test('says where CSV is sent and answered, and where no sign-in is needed', () => {
    const read = paths['/api/import/reps']!['post'] as {
      requestBody: { content: object };
      security: object[];
    };
    expect(Object.keys(read.requestBody.content)).toEqual(['text/csv']);
    expect(read.security).toEqual([{ session: [] }]);
    const write = paths['/api/export/reps.csv']!['get'] as { responses: { 200: { content: object } } };
    expect(Object.keys(write.responses[200].content)).toEqual(['text/csv']);
    expect((paths['/api/health']!['get'] as { security: object[] }).security).toEqual([]);
  });

  test('is plain JSON', () => {
    expect(JSON.parse(JSON.stringify(paths))).toStrictEqual(paths);
  });
});
