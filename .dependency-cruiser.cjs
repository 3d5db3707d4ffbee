/** The floors of the project and the directions between them (docs/architecture.md). */
const floor = (path) => `^${path}/`;
const rule = (name, from, to, comment) => ({ name, severity: 'error', comment, from, to });

module.exports = {
  forbidden: [
    rule('no-cycles', {}, { circular: true }, 'A cycle hides which part knows which.'),
    rule(
      'core-imports-core-only',
      { path: floor('core') },
      { path: '^(app|ui|workers|server|contract|tests|bench|demo|scripts)/' },
      'core is pure computation.',
    ),
    rule('core-without-platform', { path: floor('core') }, { dependencyTypes: ['core'] }, 'No Node modules in core.'),
    rule(
      'core-without-interface',
      { path: floor('core') },
      { path: 'node_modules/(react|react-native|expo|express|better-sqlite3|sharp|idb|zod)' },
      'core knows no interface, disk or network.',
    ),
    rule('contract-imports', { path: floor('contract') }, { path: '^(app|ui|workers|server|tests|bench|demo)/' }, ''),
    rule('workers-imports', { path: floor('workers') }, { path: '^(app|ui|server|tests|bench|demo)/' }, ''),
    rule('server-imports', { path: floor('server') }, { path: '^(app|ui|workers|tests|bench|demo)/' }, ''),
    rule('ui-imports', { path: '^(ui|app)/' }, { path: '^(server|tests|bench|demo)/' }, ''),
    rule('ui-below-app', { path: floor('ui') }, { path: floor('app') }, 'Routes use screens, not the other way.'),
    rule(
      'stops-apart',
      { path: '^ui/screens/sheet/stops/([^/]+)/' },
      { path: '^ui/screens/sheet/stops/[^/]+/', pathNot: '^ui/screens/sheet/stops/$1/' },
      'A stop is its folder and its line in stops.ts.',
    ),
    rule(
      'parts-without-stops',
      { path: '^ui/screens/sheet/(frame|paper|stack)/' },
      { path: '^ui/screens/sheet/stops/[^/]+/' },
      'The frame knows of a stop what stop.ts says.',
    ),
    rule(
      'sql-in-store-only',
      { path: floor('server'), pathNot: '^server/store/' },
      { path: 'node_modules/better-sqlite3' },
      '',
    ),
    rule('nothing-imports-tests', { pathNot: '^(tests|bench)/' }, { path: '^(tests|bench)/' }, ''),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.json'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
    },
  },
};
