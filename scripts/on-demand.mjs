// What most runs do not need is loaded when it is first used: packages, which are bundled beside the program, large modules of the
// engine, the core as far as the command line asks for it, and the few modules of it that do much as soon as they are loaded.
import { readdirSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { dirname, resolve } from 'node:path';
import { build as bundle } from 'esbuild';

/** Programs of the machine in a package, and what is large: installed beside the program, where people want it. */
export const EXTERNAL = ['sharp', 'playwright-core', 'classic-level'];
const PACKAGE = /^(?:@[^/.:]+\/)?[^/.:]+(?:\/[^.:]+)?$/;
const ENGINE = /^node:(?:child_process|crypto|http|net|readline\/promises|stream|v8|worker_threads|zlib)$/;
/** Modules of the core that make or ask for something at once. */
const BUSY = /\/(?:schema|zip-file-reader)\.ts$/;
/** Those that are names and nothing else, which options are described by. */
const NAMES = /\/(?:reason|format-names)\.ts$/;
const [CLI, CORE] = ['src/cli', 'src/core'].map((folder) => `${resolve(folder)}/`);
const fileOf = (name) => `packages/${name.replace(/^@/, '').replaceAll('/', '-')}`;

/**
 * Makes what is bundled in place of a module: an object that looks like it, and loads it once something of it is read,
 * called or constructed. What a bundler makes of an import has the prototype of the module, and copies the names that it has
 * itself: so it has none of its own, and is its own prototype.
 */
const MAKER = `module.exports = (loading, exported) => {
  let loaded, names;
  const load = () => (loaded ??= loading());
  const whole = () => (load().__esModule ? load().default : load());
  const isNamed = (name) => (names ??= new Set(exported)).has(name);
  // A bound function can be called and constructed, and has no property that a stand-in would have to own up to.
  const standIn = new Proxy(function () {}.bind(), {
    // A promise asks what it is given whether it is one.
    get: (_, name) => (name === '__esModule' || name === 'then' ? undefined : isNamed(name) ? load()[name] : whole()[name]),
    apply: (_, self, given) => Reflect.apply(whole(), self, given),
    construct: (_, given) => Reflect.construct(whole(), given),
    ownKeys: () => [],
    getOwnPropertyDescriptor: () => undefined,
    getPrototypeOf: () => standIn,
  });
  return standIn;
};`;

const coreModules = () => readdirSync(CORE, { recursive: true }).filter((file) => file.endsWith('.ts'));

/** The names that the modules of the core export, by their paths. */
async function exportsOfCore() {
  const entryPoints = coreModules().map((file) => CORE + file);
  const { metafile } = await bundle({ entryPoints, write: false, format: 'esm', outdir: CORE, metafile: true });
  return new Map(Object.values(metafile.outputs).map(({ entryPoint, exports }) => [resolve(entryPoint), exports]));
}

/** The core as one file, from which the command line takes the modules that it needs, by their paths. */
export function coreApart() {
  const modules = coreModules().map((file) => `get ${JSON.stringify(file)}() { return require(${JSON.stringify(CORE + file)}); },`);
  return { contents: `module.exports = {${modules.join('\n')}};`, resolveDir: CORE, sourcefile: 'core.js' };
}

/** Takes the texts of one language alone of a package that brings fifty, each of which would be compiled at every start. */
const english = (path) => ({ contents: `export { default as en } from './en.js';`, resolveDir: dirname(path) });
const inOneLanguage = ({ onLoad }) => onLoad({ filter: /[/\\]locales[/\\]index\.js$/ }, ({ path }) => english(path));

/** A package, too, loads a large module of the engine when it first uses it. */
const engineOnDemand = {
  name: 'engine-on-demand',
  setup({ onResolve, onLoad }) {
    onResolve({ filter: ENGINE }, ({ path, kind, namespace }) =>
      kind === 'require-call' && namespace === 'file' ? { path, namespace: 'engine' } : undefined,
    );
    onResolve({ filter: /^stand-in$/ }, ({ path }) => ({ path, namespace: 'maker' }));
    onLoad({ filter: /./, namespace: 'maker' }, () => ({ contents: MAKER }));
    onLoad({ filter: /./, namespace: 'engine' }, ({ path }) => ({
      contents: `module.exports = require('stand-in')(() => require(${JSON.stringify(path)}), []);`,
      resolveDir: CORE,
    }));
  },
};

/**
 * The plugin of a bundler.
 * @param build bundles the packages, as scripts
 * @param isCoreApart whether the command line takes the core from its {@link coreApart own file}
 */
export function onDemand(build, isCoreApart = false) {
  const [used, exports] = [new Set(), exportsOfCore()];
  /** The module that an import loads on demand, and the names that it has; undefined when it is loaded at once. */
  function loadedOnDemand({ path, importer, resolveDir }) {
    const whole = resolve(resolveDir, path);
    const ofModule = async () => (await exports).get(whole);
    const ofPackage = async () => Object.keys(await import(path));
    if (ENGINE.test(path)) return { source: path, names: ofPackage };
    if (PACKAGE.test(path) && !EXTERNAL.includes(path) && !importer.includes('node_modules') && !builtinModules.includes(path)) {
      used.add(path);
      return { source: `./${fileOf(path)}.cjs`, names: ofPackage };
    }
    if (!path.endsWith('.ts') || !whole.startsWith(CORE)) return undefined;
    if (isCoreApart && importer.startsWith(CLI) && !NAMES.test(whole))
      return { source: './core.cjs', member: `[${JSON.stringify(whole.slice(CORE.length))}]`, names: ofModule };
    return BUSY.test(whole) ? { source: whole, names: ofModule } : undefined;
  }
  return {
    name: 'on-demand',
    setup({ onResolve, onLoad, onEnd }) {
      onResolve({ filter: /./ }, (imported) => {
        const { path, kind, namespace } = imported;
        if (path === 'stand-in') return { path, namespace: 'maker' };
        // A stand-in loads a file that lies beside the program, or is a module of the core.
        if (namespace === 'on-demand') return path.endsWith('.cjs') ? { path, external: true } : undefined;
        const loaded = /^(?:import-statement|dynamic-import)$/.test(kind) ? loadedOnDemand(imported) : undefined;
        return loaded && { path: loaded.source + (loaded.member ?? ''), namespace: 'on-demand', pluginData: loaded };
      });
      onLoad({ filter: /./, namespace: 'maker' }, () => ({ contents: MAKER }));
      onLoad({ filter: /./, namespace: 'on-demand' }, async ({ pluginData: { source, member = '', names } }) => {
        const exported = (await names()).filter((each) => each !== 'default' && each !== 'module.exports');
        const loading = `require(${JSON.stringify(source)})${member}`;
        return { contents: `module.exports = require('stand-in')(() => ${loading}, ${JSON.stringify(exported)});`, resolveDir: CORE };
      });
      onEnd(async () => {
        const entryPoints = Object.fromEntries([...used].map((name) => [fileOf(name), name]));
        await build({ entryPoints, plugins: [{ name: 'in-one-language', setup: inOneLanguage }, engineOnDemand] });
      });
    },
  };
}
