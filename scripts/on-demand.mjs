// What most runs do not need is loaded when something of it is first used: packages, which are bundled beside the
// program, large modules of the engine, the core as far as the command line asks for it, and the few modules of the core that do
// much as soon as they are loaded.
import { readdirSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { dirname, resolve } from 'node:path';
import { build as bundle } from 'esbuild';

const PACKAGE = /^(?:@[^/.:]+\/)?[^/.:]+(?:\/[^.:]+)?$/;
const ENGINE = /^node:(?:child_process|crypto|http|net|readline\/promises|stream|worker_threads|zlib)$/;
/** Modules of the core that make or ask for something at once. */
const BUSY = /\/(?:schema|zip-file-reader)\.ts$/;
/** Those that are names and nothing else, which options are described by. */
const NAMES = /\/(?:reason|format-names)\.ts$/;
const [CLI, CORE] = ['src/cli', 'src/core'].map((folder) => `${resolve(folder)}/`);
const CORE_FILE = './core.cjs';
const fileOf = (name) => `packages/${name.replace(/^@/, '').replaceAll('/', '-')}`;

/**
 * Makes what is bundled in place of a module: an object that looks like it, and loads it once something of it is read,
 * called or constructed. A bundler copies the names of what it imports, so these are known without loading it.
 */
const MAKER = `module.exports = (loading, exported) => {
  const names = new Set(exported);
  let loaded;
  const load = () => (loaded ??= loading());
  const whole = () => (load().__esModule ? load().default : load());
  // A bound function can be called and constructed, and has no property that a stand-in would have to own up to.
  return new Proxy(function () {}.bind(), {
    get: (_, name) => (name === '__esModule' ? undefined : names.has(name) ? load()[name] : whole()[name]),
    apply: (_, self, given) => Reflect.apply(whole(), self, given),
    construct: (_, given) => Reflect.construct(whole(), given),
    ownKeys: () => exported,
    getOwnPropertyDescriptor: (_, name) => (names.has(name) ? { enumerable: true, configurable: true } : undefined),
  });
};`;

/** @param loading the code that loads the module */
function standIn(loading, exported) {
  const names = exported.filter((each) => each !== 'default' && each !== 'module.exports');
  return `module.exports = require('stand-in')(() => ${loading}, ${JSON.stringify(names)});`;
}

const requiring = (source) => `require(${JSON.stringify(source)})`;

const coreModules = () => readdirSync(CORE, { recursive: true }).filter((file) => file.endsWith('.ts'));

/** The names that the modules of the core export, by their paths. */
async function exportsOfCore() {
  const entryPoints = coreModules().map((file) => CORE + file);
  const { metafile } = await bundle({ entryPoints, bundle: false, write: false, format: 'esm', outdir: CORE, metafile: true });
  return new Map(Object.values(metafile.outputs).map(({ entryPoint, exports }) => [resolve(entryPoint), exports]));
}

/** The core as one file, from which the command line takes the modules that it needs, by their paths. */
export function coreApart() {
  const modules = coreModules().map((file) => `get ${JSON.stringify(file)}() { return ${requiring(CORE + file)}; },`);
  return { contents: `module.exports = {${modules.join('\n')}};`, resolveDir: CORE, sourcefile: 'core.js' };
}

/** Takes the texts of one language alone of a package that brings fifty, each of which would be compiled at every start. */
const inOneLanguage = {
  name: 'in-one-language',
  setup(hooks) {
    hooks.onLoad({ filter: /[/\\]locales[/\\]index\.js$/ }, ({ path }) => ({
      contents: `export { default as en } from './en.js';`,
      resolveDir: dirname(path),
    }));
  },
};

/**
 * The plugin of a bundler.
 * @param build bundles the packages, as scripts
 * @param isCoreApart whether the command line takes the core from its {@link coreApart own file}
 */
export function onDemand(build, isCoreApart = false) {
  const used = new Set();
  let exports;
  const namesOf = async (path) => (await (exports ??= exportsOfCore())).get(path);
  return {
    name: 'on-demand',
    setup(hooks) {
      hooks.onResolve({ filter: /^stand-in$/ }, ({ path }) => ({ path, namespace: 'maker' }));
      hooks.onLoad({ filter: /.*/, namespace: 'maker' }, () => ({ contents: MAKER }));

      const isImport = (kind) => kind === 'import-statement' || kind === 'dynamic-import';
      hooks.onResolve({ filter: PACKAGE }, ({ path, kind, importer }) => {
        const isOurs = kind === 'import-statement' && !importer.includes('node_modules');
        if (!isOurs || builtinModules.includes(path)) return undefined;
        used.add(path);
        return { path, namespace: 'package' };
      });
      hooks.onLoad({ filter: /.*/, namespace: 'package' }, async ({ path }) => ({
        contents: standIn(requiring(`./${fileOf(path)}.cjs`), Object.keys(await import(path))),
      }));

      hooks.onResolve({ filter: ENGINE }, ({ path, namespace }) => (namespace === 'engine' ? undefined : { path, namespace: 'engine' }));
      hooks.onLoad({ filter: /.*/, namespace: 'engine' }, async ({ path }) => ({
        contents: standIn(requiring(path), Object.keys(await import(path))),
      }));

      hooks.onResolve({ filter: /\.ts$/ }, ({ path, kind, importer, resolveDir, namespace }) => {
        const whole = resolve(resolveDir, path);
        if (!isImport(kind) || namespace !== 'file' || !whole.startsWith(CORE)) return undefined;
        if (isCoreApart && importer.startsWith(CLI) && !NAMES.test(whole)) return { path: whole, namespace: 'core' };
        return BUSY.test(whole) ? { path: whole, namespace: 'busy' } : undefined;
      });
      hooks.onLoad({ filter: /.*/, namespace: 'core' }, async ({ path }) => ({
        contents: standIn(`${requiring(CORE_FILE)}[${JSON.stringify(path.slice(CORE.length))}]`, await namesOf(path)),
      }));
      hooks.onLoad({ filter: /.*/, namespace: 'busy' }, async ({ path }) => ({
        contents: standIn(requiring(path), await namesOf(path)),
        resolveDir: CORE,
      }));
      // What a stand-in loads from beside the program.
      hooks.onResolve({ filter: /\.cjs$/ }, ({ path, namespace }) =>
        namespace === 'package' || namespace === 'core' ? { path, external: true } : undefined,
      );

      hooks.onEnd(async () => {
        const entryPoints = Object.fromEntries([...used].map((name) => [fileOf(name), name]));
        await build({ entryPoints, plugins: [inOneLanguage] });
      });
    },
  };
}
