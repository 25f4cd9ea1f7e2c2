// Bundles the program into dist/, split by command so that each loads only what it needs.
import { createHash } from 'node:crypto';
import { chmodSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { build as bundle } from 'esbuild';
import licenses from 'spdx-license-list/full.js';
import { COPIED, noticesOf, packagesIn } from './notices.mjs';
import { coreApart, EXTERNAL, onDemand } from './on-demand.mjs';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'));
// The declarations in dist/types are made by the compiler, and stay.
const dist = new URL('../dist/', import.meta.url);
mkdirSync(dist, { recursive: true });
for (const name of readdirSync(dist)) if (/\.(?:js|json|cjs|code)$/.test(name)) rmSync(new URL(name, dist));
rmSync(new URL('packages/', dist), { recursive: true, force: true });

/** The folders of the packages that are in the program. */
const bundled = new Set(COPIED);

async function build(options) {
  const { metafile } = await bundle({ ...options, metafile: true });
  for (const folder of packagesIn(metafile)) bundled.add(folder);
}

const common = {
  bundle: true,
  platform: 'node',
  // ES modules first: the bundler can follow them where a CommonJS wrapper hides its parts.
  mainFields: ['module', 'main'],
  external: EXTERNAL,
  target: 'node20',
  minifySyntax: true,
  minifyWhitespace: true,
  legalComments: 'none',
  logLevel: 'warning',
  outdir: 'dist',
};
// Packages in CommonJS call require(), which an ES module does not have.
const banner = { js: "import { createRequire as pioneroRequire } from 'node:module';const require = pioneroRequire(import.meta.url);" };
// What workers can do: modules of the rooms, loaded by name.
const tasks = readdirSync('src/core', { recursive: true })
  .filter((file) => file.endsWith('.tasks.ts'))
  .map((file) => [basename(file, '.ts'), join('src/core', file)]);
/** Tells one build from another: a hash of everything that the program is made of. */
function sources() {
  const hash = createHash('sha256');
  const files = ['src', 'platforms'].flatMap((folder) => readdirSync(folder, { recursive: true, withFileTypes: true }));
  const paths = files.filter((entry) => entry.isFile()).map((entry) => join(entry.parentPath, entry.name));
  for (const path of paths.sort()) hash.update(path).update(readFileSync(path));
  return hash.digest('hex').slice(0, 16);
}

const defined = { PIONERO_VERSION: JSON.stringify(version), PIONERO_BUILD: JSON.stringify(sources()) };

// A module's own place, which CommonJS tells in another way.
const asScript = {
  format: 'cjs',
  outExtension: { '.js': '.cjs' },
  banner: { js: "const pioneroUrl = require('node:url').pathToFileURL(__filename).href;" },
  define: { ...defined, 'import.meta.url': 'pioneroUrl' },
};
const packages = async (options) => build({ ...common, ...asScript, ...options });

const asModules = { ...common, format: 'esm', banner, plugins: [onDemand(packages)], define: defined };
// The library, in one file: many small ones take longer to find than one to read.
await build({ ...asModules, entryPoints: { core: 'src/core/index.ts', reports: 'src/cli/output/index.ts' } });
// What runs in threads of its own, the program of these, the manual page and the page of commands.
await build({
  ...asModules,
  splitting: true,
  entryPoints: {
    'man-page': 'src/cli/man-page.ts',
    'commands-page': 'src/cli/commands-page.ts',
    'packages/entry/worker': 'node_modules/tinypool/dist/entry/worker.js',
    ...Object.fromEntries(tasks),
  },
});
// The program. A command loads only the parts that it needs.
const program = { ...common, ...asScript };
await build({ ...program, plugins: [onDemand(packages, true)], entryPoints: { program: 'src/cli/main.ts' } });
await build({ ...program, plugins: [onDemand(packages, true)], stdin: coreApart(), outfile: 'dist/core.cjs', outdir: undefined });
await build({ ...program, banner: {}, entryPoints: { pionero: 'src/cli/pionero.ts' } });
chmodSync('dist/pionero.cjs', 0o755);

// What judges how accessible pages are runs in the page: src/core/shots/look-at-pages.ts takes it from here.
writeFileSync(new URL('access-engine.txt', dist), readFileSync(new URL(import.meta.resolve('axe-core/axe.min.js'))));

// The texts of the licenses that people know, one a file: src/core/licenses/license-texts.ts takes them from here.
mkdirSync(new URL('licenses/', dist), { recursive: true });
for (const [id, { osiApproved, licenseText }] of Object.entries(licenses))
  if (osiApproved || /^(?:CC-?BY|CC0|OFL|MIT|WTFPL|Unlicense|Zlib)/.test(id))
    writeFileSync(new URL(`licenses/${id}.txt`, dist), licenseText);

// Each command would read and validate the shipped platform files again: src/core/platform/prepared.ts takes them from here.
const { shippedPlatforms } = await import('../dist/core.js');
const contracts = shippedPlatforms()
  // What another file can change is not known by its own text alone.
  .filter(({ contract }) => contract.extend === undefined)
  .map(({ source, contract }) => [createHash('sha256').update(source.text).digest('hex'), contract]);
writeFileSync('dist/platforms.json', JSON.stringify(Object.fromEntries(contracts)));

// The packages in the program, and the license of each.
writeFileSync(new URL('THIRD-PARTY-NOTICES.txt', dist), noticesOf(bundled));
