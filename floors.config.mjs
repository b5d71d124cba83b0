/**
 * The floors of the house, for dependency-cruiser. An arrow, a type's too, only ever points down: from a room to one on a
 * lower floor. Tests may look anywhere in their own package.
 */
const floors = {
  core: [
    ['math'],
    ['breakdown', 'measure', 'words'],
    ['hazard', 'people', 'rep'],
    ['care', 'drills', 'find', 'reading', 'variants'],
    ['prescription'],
    ['session'],
    ['facts', 'formats'],
    ['test'],
  ],
  server: [
    ['db'],
    ['signals'],
    ['facts', 'trail'],
    ['access', 'care', 'class', 'library', 'live'],
    ['people'],
    ['prescriptions'],
    ['readings'],
    ['intake'],
    ['transfers', 'keeping'],
    ['threads'],
    ['http'],
    ['routes'],
    ['test'],
  ],
  // The places do not know each other.
  web: [
    ['ui'],
    ['api'],
    ['device'],
    ['reader'],
    ['strand'],
    ['academy', 'correct', 'data', 'library', 'mat', 'people', 'readings', 'today'],
    ['app'],
  ],
};

/** From each room of a package to those above it and next to it: never. */
const upwards = Object.entries(floors).flatMap(([root, levels]) =>
  levels.flatMap((rooms, height) =>
    rooms.map((room) => {
      const above = [...rooms.filter((one) => one !== room), ...levels.slice(height + 1).flat()];
      return {
        name: `${root}/${room} looks up`,
        severity: 'error',
        from: { path: `^${root}/${room}/`, pathNot: '\\.test\\.tsx?$' },
        to: { path: above.length > 0 ? `^${root}/(${above.join('|')})/` : '^$' },
      };
    }),
  ),
);

/** A room on no floor imports nothing, so that a new one gets its floor first. */
const nowhere = Object.entries(floors).map(([root, levels]) => ({
  name: `a room of ${root} on no floor`,
  severity: 'error',
  from: { path: `^${root}/[^/]+/`, pathNot: `^${root}/(${levels.flat().join('|')})/` },
  to: {},
}));

const never = (name, from, to) => ({ name, severity: 'error', from, to });
const npm = (...packages) => ({ path: packages.map((one) => `(^|/)node_modules/${one}(/|$)`).join('|') });
const source = (path) => ({ path, pathNot: '\\.test\\.tsx?$' });

export default {
  forbidden: [
    never('no circles', {}, { circular: true }),
    ...upwards,
    ...nowhere,
    never('the core is pure', source('^core/'), {
      path: `^(web|server|contract|demo)/|${npm('react', 'express', 'drizzle-orm', 'pg', 'swr', 'styled-components').path}`,
    }),
    never('the core knows no platform', source('^core/'), { dependencyTypes: ['core'] }),
    never('the contract imports the core alone', { path: '^contract/' }, { path: '^(web|server|demo)/' }),
    never('the demo is made from the core alone', { path: '^demo/' }, { path: '^(web|server|contract)/' }),
    never('the server knows no interface and no demo', { path: '^server/' }, { path: '^(web|demo)/' }),
    never('a route holds no SQL', { path: '^server/routes/' }, npm('drizzle-orm', 'pg')),
    never(
      'the web speaks to the server through the contract',
      { path: '^web/(?!vite)' },
      { path: '^(server|demo)/' },
    ),
    never('the web knows no platform', { path: '^web/[^/]+/' }, { dependencyTypes: ['core'] }),
    never(
      // The Mat's knots and tiles must paint in the frame of the tap: they are its own.
      'controls come from the kit',
      { path: '^web/(academy|app|correct|data|library|people|readings|strand|today)/' },
      npm('react-aria-components'),
    ),
  ],
  options: {
    // Types too: an arrow drawn by a type alone still ties two files.
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|test-results)/' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.mjs', '.js', '.json'],
    },
  },
};
