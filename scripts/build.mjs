// Bundles the program into dist/, split by command so that each loads only what it needs.
import { chmodSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { build } from 'esbuild';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'));
// The declarations in dist/types are made by the compiler, and stay.
const dist = new URL('../dist/', import.meta.url);
mkdirSync(dist, { recursive: true });
for (const name of readdirSync(dist)) if (name.endsWith('.js')) rmSync(new URL(name, dist));

const common = {
  bundle: true,
  platform: 'node',
  // ES modules first: the bundler can follow them where a CommonJS wrapper hides its parts.
  mainFields: ['module', 'main'],
  format: 'esm',
  target: 'node20',
  splitting: true,
  minifySyntax: true,
  minifyWhitespace: true,
  legalComments: 'none',
  logLevel: 'warning',
};
// Packages in CommonJS call require(), which an ES module does not have.
const banner = { js: "import { createRequire as pioneroRequire } from 'node:module';const require = pioneroRequire(import.meta.url);" };
await build({
  ...common,
  banner,
  entryPoints: { pionero: 'src/cli/main.ts', core: 'src/core/index.ts', 'helper-thread': 'src/core/parallel/helper-thread.ts' },
  outdir: 'dist',
  define: { PIONERO_VERSION: JSON.stringify(version) },
});
chmodSync('dist/pionero.js', 0o755);
