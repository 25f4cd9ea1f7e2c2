// What most runs do not need is loaded when it is first used: packages, which are bundled beside the program, large modules of the
// engine, the core as far as the command line asks for it, and the few modules of it that do much as soon as they are loaded.
import { readdirSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { dirname, resolve } from 'node:path';

/** Programs of the machine in a package, and what is large: installed beside the program, where people want it. */
export const EXTERNAL = ['sharp', 'playwright-core', 'classic-level'];
const PACKAGE = /^(?:@[^/.:]+\/)?[^/.:]+(?:\/[^.:]+)?$/;
const ENGINE = /^node:(?:child_process|crypto|http|net|readline\/promises|stream|v8|worker_threads|zlib)$/;
/** Modules of the core that make or ask for something at once: the shapes of files, `schema.ts` and `NAME-schema.ts`, are made of a package. */
const BUSY = /\/(?:(?:[a-z-]+-)?schema|zip-file-reader)\.ts$/;
/** Those that are names and nothing else, which options are described by. */
const NAMES = /\/(?:reason|format-names)\.ts$/;
const [CLI, CORE] = ['src/cli', 'src/core'].map((folder) => `${resolve(folder)}/`);
const fileOf = (name) => `packages/${name.replace(/^@/, '').replaceAll('/', '-')}`;

/**
 * Makes what is bundled in place of a module: an object that looks like it, and loads it once something of it is read,
 * called or constructed. An import, as a bundler writes it, has the prototype of the module and copies
 * the module’s own names: so the stand-in has no names, and is its own prototype.
 */
const MAKER = `module.exports = (loading) => {
  let loaded;
  const load = () => (loaded ??= loading());
  const whole = () => (load().__esModule ? load().default : load());
  // A bound function can be called and constructed, and has no property that a stand-in would have to own up to.
  const standIn = new Proxy(function () {}.bind(), {
    // A promise asks what it is given whether it is one.
    get: (_, name) => (name === '__esModule' || name === 'then' ? undefined : name in load() ? load()[name] : whole()[name]),
    apply: (_, self, given) => Reflect.apply(whole(), self, given),
    construct: (_, given) => Reflect.construct(whole(), given),
    ownKeys: () => [],
    getOwnPropertyDescriptor: () => undefined,
    getPrototypeOf: () => standIn,
  });
  return standIn;
};`;

/** The core as one file, from which the command line takes the modules that it needs, by their paths. */
export function coreApart() {
  const paths = readdirSync(CORE, { recursive: true }).filter((file) => file.endsWith('.ts'));
  const modules = paths.map((file) => `get ${JSON.stringify(file)}() { return require(${JSON.stringify(CORE + file)}); },`);
  return { contents: `module.exports = {${modules.join('\n')}};`, resolveDir: CORE, sourcefile: 'core.js' };
}

/** Takes the texts of one language alone of a package that brings fifty, each of which would be compiled at every start. */
const english = (path) => ({ contents: `export { default as en } from './en.js';`, resolveDir: dirname(path) });
const inOneLanguage = ({ onLoad }) => onLoad({ filter: /[/\\]locales[/\\]index\.js$/ }, ({ path }) => english(path));

/**
 * The plugin of a bundler.
 * @param build bundles the packages, as scripts
 * @param isCoreApart whether the command line takes the core from its {@link coreApart own file}
 */
export function onDemand(build, isCoreApart = false) {
  const used = new Set();
  /** What loads a module on demand; undefined when it is loaded at once. */
  function loadedOnDemand({ path, kind, importer, resolveDir }) {
    const load = (source, member = '') => `require(${JSON.stringify(source)})${member}`;
    const isOfPackage = importer.includes('node_modules');
    if (!['import-statement', 'dynamic-import'].includes(kind) && !(isOfPackage && kind === 'require-call')) return undefined;
    if (ENGINE.test(path)) return load(path);
    if (PACKAGE.test(path) && !EXTERNAL.includes(path) && !isOfPackage && !builtinModules.includes(path)) {
      used.add(path);
      return load(`./${fileOf(path)}.cjs`);
    }
    const whole = resolve(resolveDir, path);
    if (!path.endsWith('.ts') || !whole.startsWith(CORE)) return undefined;
    if (isCoreApart && importer.startsWith(CLI) && !NAMES.test(whole))
      return load('./core.cjs', `[${JSON.stringify(whole.slice(CORE.length))}]`);
    return BUSY.test(whole) ? load(whole) : undefined;
  }
  const standIns = ({ onResolve, onLoad }) => {
    onResolve({ filter: /./ }, (imported) => {
      const { path, namespace } = imported;
      if (path === 'stand-in') return { path, namespace: 'maker' };
      // A stand-in loads a file that lies beside the program, or is a module of the core.
      if (namespace === 'on-demand') return path.endsWith('.cjs') ? { path, external: true } : undefined;
      const loading = loadedOnDemand(imported);
      return loading && { path: loading, namespace: 'on-demand' };
    });
    onLoad({ filter: /./, namespace: 'maker' }, () => ({ contents: MAKER }));
    onLoad({ filter: /./, namespace: 'on-demand' }, ({ path }) => ({
      contents: `module.exports = require('stand-in')(() => ${path});`,
      resolveDir: CORE,
    }));
  };
  const setup = (plugin) => {
    standIns(plugin);
    plugin.onEnd(async () => {
      const entryPoints = Object.fromEntries([...used].map((name) => [fileOf(name), name]));
      const plugins = Object.entries({ inOneLanguage, standIns }).map(([name, part]) => ({ name, setup: part }));
      await build({ entryPoints, plugins });
    });
  };
  return { name: 'on-demand', setup };
}
