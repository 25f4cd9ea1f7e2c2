// What most runs do not need is loaded when something of it is first used: packages, which are bundled beside the
// program, large modules of the engine, and the few modules of ours that do much as soon as they are loaded.
import { builtinModules } from 'node:module';
import { build } from 'esbuild';

/** Packages that every run needs. */
const AT_ONCE = new Set(['zod', 'commander']);
const PACKAGE = /^(?:@[^/.:]+\/)?[^/.:]+(?:\/[^.:]+)?$/;
const ENGINE = /^node:(?:child_process|crypto|http|net|readline\/promises|stream|worker_threads|zlib)$/;
const OURS = /\/(?:schema|zip-file-reader)\.ts$/;
const fileOf = (name) => `packages/${name.replace(/^@/, '').replaceAll('/', '-')}`;

/**
 * What is bundled in place of a module: an object that looks like it, and loads it once something of it is read,
 * called or constructed. A bundler copies the names of what it imports, so these are known without loading it.
 */
function standIn(source, exported) {
  const names = exported.filter((each) => each !== 'default' && each !== 'module.exports');
  return `
const names = new Set(${JSON.stringify(names)});
let loaded;
const load = () => (loaded ??= require(${JSON.stringify(source)}));
const whole = () => (load().__esModule ? load().default : load());
// A bound function can be called and constructed, and has no property that a stand-in would have to own up to.
module.exports = new Proxy(function () {}.bind(), {
  get: (_, name) => (name === '__esModule' ? undefined : names.has(name) ? load()[name] : whole()[name]),
  apply: (_, self, given) => Reflect.apply(whole(), self, given),
  construct: (_, given) => Reflect.construct(whole(), given),
  ownKeys: () => [...names],
  getOwnPropertyDescriptor: (_, name) => (names.has(name) ? { enumerable: true, configurable: true } : undefined),
});`;
}

/** The plugin of a bundler that is given `options`. */
export function onDemand(options) {
  const used = new Set();
  return {
    name: 'on-demand',
    setup(bundle) {
      bundle.onResolve({ filter: PACKAGE }, ({ path, kind, importer }) => {
        const isOurs = kind === 'import-statement' && !importer.includes('node_modules');
        if (!isOurs || builtinModules.includes(path) || AT_ONCE.has(path)) return undefined;
        used.add(path);
        return { path, namespace: 'package' };
      });
      bundle.onLoad({ filter: /.*/, namespace: 'package' }, async ({ path }) => ({
        contents: standIn(`./${fileOf(path)}.cjs`, Object.keys(await import(path))),
      }));
      bundle.onResolve({ filter: /.*/, namespace: 'package' }, ({ path }) => ({ path, external: true }));

      bundle.onResolve({ filter: ENGINE }, ({ path, namespace }) => (namespace === 'engine' ? undefined : { path, namespace: 'engine' }));
      bundle.onLoad({ filter: /.*/, namespace: 'engine' }, async ({ path }) => ({
        contents: standIn(path, Object.keys(await import(path))),
      }));

      bundle.onResolve({ filter: OURS }, async ({ path, kind, ...from }) => {
        if (kind !== 'import-statement' || from.namespace === 'ours') return undefined;
        return { path: (await bundle.resolve(path, { kind: 'require-call', ...from })).path, namespace: 'ours' };
      });
      bundle.onLoad({ filter: /.*/, namespace: 'ours' }, async ({ path }) => {
        const read = await build({ entryPoints: [path], bundle: true, packages: 'external', write: false, format: 'esm', metafile: true });
        const [output] = Object.values(read.metafile.outputs);
        return { contents: standIn(path, output.exports), resolveDir: '/' };
      });

      bundle.onEnd(async () => {
        const entryPoints = Object.fromEntries([...used].map((name) => [fileOf(name), name]));
        await build({ ...options, entryPoints, format: 'cjs', splitting: false, outExtension: { '.js': '.cjs' } });
      });
    },
  };
}
