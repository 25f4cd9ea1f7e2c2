import { createHash } from 'node:crypto';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Configuration, ConfigurationLayer } from '../../configuration/configuration.ts';
import { problemAtPath } from '../../configuration/read-configuration.ts';
import { ConfigurationError, type ConfigurationProblem } from '../../errors.ts';
import { isBelowOnDisk, kindOnDisk, readIfThere } from '../../files/disk.ts';
import { isBelow, isWithin, pathFrom } from '../../files/paths.ts';
import type { Report, Rule, RuleContext } from '../rule.ts';
import { RULES } from '../rules.ts';
import { RulesSchema } from './own-rule-schema.ts';

/** The modules that were loaded, by absolute path, in the state that they were loaded in: see {@link RuleModule}. */
const loaded = new Map<string, { readonly digest: string; readonly rules: readonly Rule[] }>();

/** A module of rules that a configuration names. */
export interface RuleModule {
  /** Absolute. */
  readonly path: string;
  readonly layer: ConfigurationLayer;
  /** Why it is not run, whoever agreed to it; undefined when it may be. */
  readonly unrun?: 'of-theme' | 'elsewhere' | undefined;
  /** Tells it, and what it loads from beside itself, from another state of it: SHA-256, in hexadecimal. */
  readonly digest: string;
}

/** A copy of a folder as it was, whose modules are agreed to as those of the folder are. Both absolute. */
export interface CopiedFolder {
  readonly folder: string;
  readonly of: string;
}

/**
 * The modules that `rule-files` names for a theme. A theme’s own code never runs, nor code from outside the folders where you work.
 * @param themeFolder the theme that is checked; absolute
 */
export function ruleModules({ layers }: Configuration, themeFolder: string, currentFolder: string, copy?: CopiedFolder): RuleModule[] {
  return layers.flatMap((layer) => {
    const folder = dirname(layer.file);
    const isOfTheme = !isBelow(themeFolder, folder);
    const unrun = isOfTheme ? 'of-theme' : isWithin(currentFolder, folder) ? undefined : 'elsewhere';
    return layer['rule-files'].map((path) => ({ path, layer, unrun, digest: digestOf(path, copy) }));
  });
}

/** More files than this that a module of rules loads from beside itself are not looked at. */
const MOST_PARTS = 100;

/** Of a module and of what it imports by a relative path: the user agrees to all of it. */
function digestOf(path: string, copy?: CopiedFolder): string {
  const hash = createHash('sha256');
  const placeOf = (part: string): string =>
    copy !== undefined && isWithin(part, copy.folder) ? join(copy.of, pathFrom(copy.folder, part)) : part;
  const parts = [path];
  for (let i = 0; i < Math.min(parts.length, MOST_PARTS); i++) {
    const part = parts[i] ?? '';
    const text = readIfThere(part)?.toString('utf8') ?? '';
    hash.update(`\0${placeOf(part)}\0`).update(text);
    for (const [, specifier = ''] of text.matchAll(/(?:\bfrom|\bimport|\bimport\(|\brequire\()\s*["'](\.{1,2}\/[^"'\n]{1,300})["']/g)) {
      const other = join(dirname(part), specifier);
      if (!parts.includes(other)) parts.push(other);
    }
  }
  return hash.digest('hex');
}

/**
 * Loads the modules that `rule-files` names, those apart that must not be run: see {@link ruleModules}.
 * @param themeFolder the theme that is checked; absolute
 * @param agreed the digests of the modules that the user agreed to run
 * @param copy when what is checked is a copy
 * @throws ConfigurationError when a module is not there, holds no rules, or nobody agreed to run it
 */
export async function loadOwnRules(
  configuration: Configuration,
  themeFolder: string,
  currentFolder: string,
  agreed: ReadonlySet<string>,
  copy?: CopiedFolder,
): Promise<void> {
  for (const { path, layer, unrun, digest } of ruleModules(configuration, themeFolder, currentFolder, copy)) {
    const known = loaded.get(path);
    if (unrun !== undefined || known?.digest === digest) continue;
    const problem = (what: string, cause?: unknown): ConfigurationError =>
      new ConfigurationError({
        what: `the rules of ${layer.file} cannot be loaded`,
        problems: [problemAtPath(layer.source, ['rule-files', layer['rule-files'].indexOf(path)], what)],
        cause,
      });
    if (isBelowOnDisk(path, themeFolder)) throw problem('a module inside the theme is never run');
    if (kindOnDisk(path) !== 'file') throw problem(`there is no file ${path}`);
    // What rules were once, nobody has to agree to: what differs is compared without them.
    if (!agreed.has(digest) && copy !== undefined) continue;
    if (!agreed.has(digest)) throw problem(`${path} is a program, and nobody agreed to run it as it is now`);
    // The system keeps a module under its address: one that changed meanwhile needs another address.
    const address = `${pathToFileURL(path).href}${known === undefined ? '' : `?${digest}`}`;
    loaded.set(path, { digest, rules: await rulesIn(path, address, problem) });
  }
}

async function rulesIn(
  path: string,
  address: string,
  problem: (what: string, cause?: unknown) => ConfigurationError,
): Promise<readonly Rule[]> {
  let module: Record<string, unknown>;
  try {
    module = (await import(address)) as Record<string, unknown>;
  } catch (cause) {
    throw problem(`${path} cannot be loaded: ${cause instanceof Error ? cause.message : String(cause)}`, cause);
  }
  const rules = (Array.isArray(module['default']) ? module['default'] : [module['default']]) as Rule[];
  const [issue] = RulesSchema.safeParse(rules).error?.issues ?? [];
  if (issue !== undefined) {
    const place = issue.path.slice(1).join('.');
    throw problem(`${path} must export a rule, or a list of rules, as its default: ${place === '' ? '' : `${place}: `}${issue.message}`);
  }
  const twice = rules.find(({ meta }) => RULES.some((own) => own.meta.id === meta.id));
  if (twice !== undefined) throw problem(`${path} has a rule “${twice.meta.id}”, and so has Pionero`);
  return rules.map((rule) => guarded(rule, path));
}

/** A rule that fails is someone's mistake, and no defect of Pionero. */
function guarded(rule: Rule, path: string): Rule {
  function* held(reported: () => Iterable<Report> | undefined, { theme }: RuleContext): Generator<Report> {
    try {
      for (const report of reported() ?? []) {
        if (!Object.hasOwn(rule.meta.messages, report.message)) throw new Error(`it has no message “${report.message}”`);
        // A module can be in JavaScript, which knows no types.
        if ([report.hint, report.fix?.title].some((advice) => advice !== undefined && typeof advice.text !== 'string'))
          throw new Error('its advice has no text');
        yield report;
      }
    } catch (cause) {
      const why = cause instanceof Error ? cause.message : String(cause);
      throw new ConfigurationError({
        what: `the rule ${rule.meta.id} failed on ${theme.names.id}`,
        hint: 'correct the rule, or switch it off',
        problems: [{ ...placeIn(path, cause), message: `${rule.meta.id} failed: ${why}` }],
        cause,
      });
    }
  }
  return {
    ...rule,
    check: (context) => held(() => rule.check?.(context), context),
    ...(rule.checkText && { checkText: (source, context) => held(() => rule.checkText?.(source, context), context) }),
    ...(rule.checkFile && { checkFile: (file, context) => held(() => rule.checkFile?.(file, context), context) }),
  };
}

/** The place in a module of rules at which an error was thrown, as its stack has it; the beginning where that does not tell. */
function placeIn(path: string, cause: unknown): Pick<ConfigurationProblem, 'file' | 'line' | 'column' | 'sourceLine'> {
  const stack = cause instanceof Error ? (cause.stack ?? '') : '';
  const frame = stack.split('\n').find((line) => line.includes(pathToFileURL(path).href) || line.includes(path));
  const [, line = '1', column = '1'] = /:(\d+):(\d+)\)?$/.exec(frame ?? '') ?? [];
  const lines = readIfThere(path)?.toString('utf8').split('\n') ?? [];
  return { file: path, line: Number(line), column: Number(column), sourceLine: lines[Number(line) - 1] ?? '' };
}

/** All rules that count under a configuration: ours, then those of its own modules that were loaded. */
export function rulesUnder(configuration: Configuration): readonly Rule[] {
  const own = configuration['rule-files'].flatMap((path) => loaded.get(path)?.rules ?? []);
  return own.length === 0 ? RULES : [...RULES, ...new Set(own)];
}

/** Whether a module that the configuration names was not loaded: then nobody knows the ids of its rules. */
export function hasUnloadedRules(configuration: Configuration): boolean {
  return configuration['rule-files'].some((path) => !loaded.has(path));
}
