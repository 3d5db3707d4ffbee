// The page's bundler takes packages whole. What uses little of a large one is bundled here first, without the rest, and
// put in its place (metro.config.js): together two thirds of what the drawer would otherwise wait for.
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { root } from './paths.mjs';

const OUT = 'build/page';
const BUNDLING = { bundle: true, minify: true, format: 'esm', target: 'es2022', logLevel: 'warning' };

/** Sources of our own with the part of their libraries that they use: shapes of answers and of files. */
const OURS = {
  'contract/answers.ts': `${OUT}/answers.js`,
  'ui/store/pens-file.ts': `${OUT}/pens-file.js`,
  'ui/store/tones-file.ts': `${OUT}/tones-file.js`,
};

/** The store's library with its queries, as one: they share most of it. */
const STORE = `${OUT}/store.js`;
const STORE_PACKAGES = ['@reduxjs/toolkit', '@reduxjs/toolkit/query/react'];

/** An index of the web layer of React Native with no more than our sources and these packages take of it. */
const WEB_LAYER = `${OUT}/react-native.js`;
const PACKAGES_TAKE = [
  'AppRegistry',
  'BackHandler',
  'Dimensions',
  'I18nManager',
  'NativeEventEmitter',
  'NativeModules',
  'PixelRatio',
  'Platform',
  'StyleSheet',
  'Text',
  'UIManager',
  'View',
  'unstable_createElement',
  'useColorScheme',
];
const OTHER_FOLDERS = { unstable_createElement: 'createElement' };

/** What the page never uses. The router: tabs, stacks, previews, developer's pages; it shows routes by a plain slot. */
const UNUSED = [
  'expo-router/build/color',
  'expo-router/build/fork/native-stack',
  'expo-router/build/layouts/Tabs',
  'expo-router/build/layouts/experimental-stack',
  'expo-router/build/layouts/stack-utils',
  'expo-router/build/link/BaseExpoRouterLink',
  'expo-router/build/link/ExpoLink',
  'expo-router/build/link/LinkWithPreview',
  'expo-router/build/link/elements',
  'expo-router/build/link/preview/HrefPreview',
  'expo-router/build/native-tabs',
  'expo-router/build/react-navigation/bottom-tabs',
  'expo-router/build/react-navigation/core/StaticNavigation',
  // The router has its own in fork/.
  'expo-router/build/react-navigation/core/getPathFromState',
  'expo-router/build/react-navigation/core/getStateFromPath',
  'expo-router/build/react-navigation/elements',
  'expo-router/build/react-navigation/native-stack',
  'expo-router/build/react-navigation/native/Link',
  'expo-router/build/react-navigation/native/NavigationContainer',
  'expo-router/build/react-navigation/native/ServerContainer',
  'expo-router/build/react-navigation/native/createMemoryHistory',
  'expo-router/build/react-navigation/native/createStaticNavigation',
  'expo-router/build/react-navigation/native/useLinkBuilder',
  'expo-router/build/react-navigation/native/useLinkProps',
  'expo-router/build/react-navigation/native/useLinkTo',
  'expo-router/build/react-navigation/native/useLinking',
  'expo-router/build/react-navigation/native/useScrollToTop',
  'expo-router/build/react-navigation/routers/DrawerRouter',
  'expo-router/build/react-navigation/routers/TabRouter',
  'expo-router/build/stack',
  'expo-router/build/standard-navigation',
  'expo-router/build/views/ErrorBoundary',
  'expo-router/build/views/Sitemap',
  'expo-router/build/views/Toast',
  'expo-router/build/views/Unmatched',
  'expo-modules-core/src/uuid',
  'react-native-screens',
  // Drawings from files, and touches on shapes.
  'react-native-svg/lib/module/lib/SvgTouchableMixin',
  'react-native-svg/lib/module/xml',
  'react-native-svg/lib/module/xmlTags',
  'react-native-svg/lib/module/utils/fetchData',
].map((part) => `node_modules/${part}`);

/** In their place: whatever is asked of it, while the others are loaded, is itself. It can never be shown. */
const NOTHING = `${OUT}/nothing.js`;
const NOTHING_SOURCE = `const nothing = new Proxy(function () {}, {
  get: (_, key) => (key === '__esModule' ? true : key === Symbol.toPrimitive ? () => '' : nothing),
  apply: () => nothing,
  construct: () => ({}),
});
module.exports = nothing;
`;

/** The router's way of changing the document's head, which the page leaves as it is. */
const HEAD = `${OUT}/head.js`;
const HEAD_SOURCE = 'exports.Head = Object.assign(() => null, { Provider: ({ children }) => children });\n';

/** A file, and not the environment: the bundler keeps what it has made of a source until the source changes. */
const ADDRESSES = `${OUT}/addresses.js`;

/**
 * @param workers the address of each worker, by its constant in workers/addresses.ts.
 * @returns the environment that tells the page's bundler what to put where.
 */
export async function buildSlim(workers) {
  mkdirSync(join(root, OUT), { recursive: true });
  writeFileSync(join(root, NOTHING), NOTHING_SOURCE);
  writeFileSync(join(root, HEAD), HEAD_SOURCE);
  const addresses = Object.entries(workers).map(([name, path]) => `export const ${name} = '${path}';\n`);
  writeFileSync(join(root, ADDRESSES), addresses.join(''));
  writeWebLayer();
  await bundleStore();
  for (const [entry, outfile] of Object.entries(OURS))
    await build({ ...BUNDLING, entryPoints: [join(root, entry)], outfile: join(root, outfile) });
  const packages = Object.fromEntries(STORE_PACKAGES.map((name) => [name, STORE]));
  const files = {
    ...OURS,
    'node_modules/react-native-web/dist/index.js': WEB_LAYER,
    'node_modules/expo-router/build/head/index.js': HEAD,
    'workers/addresses.ts': ADDRESSES,
  };
  return { HUSH_SLIM: JSON.stringify({ packages, files, nothing: NOTHING, unused: UNUSED }) };
}

function writeWebLayer() {
  const lines = [...new Set([...PACKAGES_TAKE, ...takenFrom('react-native')])]
    .sort()
    .map(
      (name) => `export { default as ${name} } from 'react-native-web/dist/exports/${OTHER_FOLDERS[name] ?? name}';`,
    );
  writeFileSync(join(root, WEB_LAYER), `${lines.join('\n')}\n`);
}

async function bundleStore() {
  const lines = STORE_PACKAGES.map((name) => `export { ${takenFrom(name).join(', ')} } from '${name}';`);
  await build({
    ...BUNDLING,
    stdin: { contents: lines.join('\n'), resolveDir: root },
    outfile: join(root, STORE),
    external: ['react', 'react-dom', 'react-redux'],
    define: { 'process.env.NODE_ENV': '"production"' },
  });
}

/** The values, not the types, that our sources import from a package, each once. */
function takenFrom(name) {
  const statement = new RegExp(`import \\{([^}]*)\\} from '${name}';`, 'g');
  const taken = ['app', 'ui']
    .flatMap((folder) => sourcesIn(join(root, folder)))
    .flatMap((file) => [...readFileSync(file, 'utf8').matchAll(statement)])
    .flatMap(([, names]) => names.split(','))
    .map((one) => one.trim().split(' as ')[0])
    .filter((one) => one && !one.startsWith('type '));
  return [...new Set(taken)];
}

function sourcesIn(folder) {
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => /\.tsx?$/.test(entry.name))
    .map((entry) => join(entry.parentPath ?? entry.path, entry.name));
}
