import { problemAtPath } from '../configuration/read-configuration.ts';
import { findSyntax, syntaxNames } from '../documents/syntaxes.ts';
import type { ConfigurationProblem } from '../errors.ts';
import { matchesAny } from '../files/glob.ts';
import { checkTheme } from '../rules/check.ts';
import { listKits, type Kit } from './kits.ts';
import { nearest } from '../text/nearest.ts';
import { openChain } from '../theme/chain.ts';
import { Shelves } from '../theme/shelf.ts';
import { judgeName, type Platform } from '../platform/platform.ts';

type Path = readonly (string | number)[];
type Problem = readonly [path: Path, message: string];

/** What is wrong with a platform file that its schema cannot see: contradictions, and kits that break their own platform's rules. */
export function checkPlatform(platform: Platform): ConfigurationProblem[] {
  const kits = listKits(platform);
  const problems = [
    ...syntaxProblems(platform),
    ...typeProblems(platform),
    ...nameProblems(platform, kits),
    ...roleProblems(platform),
    ...shapeProblems(platform),
    ...kitProblems(platform, kits),
  ];
  return problems.map(([path, message]) => problemAtPath(platform.source, path, message));
}

function* syntaxProblems({ contract }: Platform): Generator<Problem> {
  for (const [i, { syntax }] of contract.documents.entries()) {
    if (findSyntax(syntax) !== undefined) continue;
    const near = nearest(syntax, syntaxNames());
    yield [
      ['documents', i, 'syntax'],
      `there is no syntax “${syntax}”; ${near === undefined ? `known: ${syntaxNames().join(', ')}` : `did you mean “${near}”?`}`,
    ];
  }
}

/** One fact with two types: whoever writes it could not satisfy both. */
function* typeProblems({ contract }: Platform): Generator<Problem> {
  const types = new Map<string, string>();
  for (const [i, document] of contract.documents.entries()) {
    for (const [j, field] of document.fields.entries()) {
      const known = types.get(field.fact);
      if (known !== undefined && known !== field.type && field.shape === undefined) {
        yield [['documents', i, 'fields', j], `the fact “${field.fact}” is ${field.type} here and ${known} in another document`];
      }
      if (field.shape === undefined) types.set(field.fact, known ?? field.type);
      if (field.values !== undefined && field.default !== undefined && !field.values.includes(field.default)) {
        yield [['documents', i, 'fields', j, 'default'], `the default “${field.default}” is none of the allowed values`];
      }
    }
  }
}

/** A group that repeats itself and holds a repetition can take a regular expression exponential time. */
const NESTED_REPETITION = /\((?:[^()\\]|\\.)*[+*}](?:[^()\\]|\\.)*\)(?:[+*]|\{\d+,\d*\})/;

function* nameProblems({ contract }: Platform, kits: readonly Kit[]): Generator<Problem> {
  for (const kind of ['id', 'vendor'] as const) {
    const grammar = contract[kind];
    if (grammar === undefined) continue;
    if (NESTED_REPETITION.test(grammar.pattern))
      yield [[kind, 'pattern'], 'the pattern repeats a repetition, which takes exponential time on long names'];
    if (!isPattern(grammar.pattern)) {
      yield [[kind, 'pattern'], 'the pattern is no regular expression'];
      continue;
    }
    const names = kits.flatMap((kit) => kit.theme.names[kind] ?? []);
    if (names.length > 0 && names.every((name) => judgeName(name, grammar) !== undefined))
      yield [[kind, 'pattern'], `the pattern matches none of the kits’ names (${names.join(', ')})`];
  }
  if (contract.home.includes('{vendor}') !== (contract.vendor !== undefined))
    yield [['home'], 'a home with {vendor} and a grammar of vendors belong together'];
}

function isPattern(text: string): boolean {
  try {
    return new RegExp(text, 'u').source !== '';
  } catch {
    return false;
  }
}

function* roleProblems({ contract }: Platform): Generator<Problem> {
  const roles = contract.templates?.roles ?? {};
  for (const [name, role] of Object.entries(roles)) {
    if (role.else !== undefined && roles[role.else] === undefined)
      yield [['templates', 'roles', name, 'else'], `there is no role “${role.else}” to fall back on`];
    const seen = new Set<string>();
    for (let at: string | undefined = name; at !== undefined; at = roles[at]?.else) {
      if (seen.has(at)) {
        yield [['templates', 'roles', name], 'the role falls back on itself'];
        break;
      }
      seen.add(at);
    }
    if (contract.templates !== undefined && !matchesAny(role.file, contract.templates.files))
      yield [
        ['templates', 'roles', name, 'file'],
        `${role.file} is among none of the template files (${contract.templates.files.join(', ')})`,
      ];
  }
}

const KNOWN_PLACEHOLDERS = new Set(['id', 'vendor', 'title', 'locale', 'name', 'path']);

function* shapeProblems({ contract }: Platform): Generator<Problem> {
  const shapes: Problem[] = [
    [['home'], contract.home],
    ...contract.documents.map(({ path }, i): Problem => [['documents', i, 'path'], path]),
    ...contract.identifiers.map(({ shape }, i): Problem => [['identifiers', i, 'shape'], shape]),
    [['package', 'name'], contract.package.name],
    [['package', 'top'], contract.package.top],
  ];
  for (const [path, shape] of shapes) {
    for (const [, name = ''] of shape.matchAll(/\{([a-z]+)(?::[A-Za-z]+)?\}/g)) {
      if (!KNOWN_PLACEHOLDERS.has(name))
        yield [path, `“{${name}}” is no placeholder; there are ${[...KNOWN_PLACEHOLDERS].map((each) => `{${each}}`).join(', ')}`];
    }
  }
}

/** Kits are working themes: they pass their own platform's check, their marker fields apart. */
function* kitProblems(platform: Platform, kits: readonly Kit[]): Generator<Problem> {
  const themes = kits.map((kit) => kit.theme);
  const shelves = new Shelves(
    platform,
    themes.map((theme) =>
      theme.location
        .split('/')
        .slice(0, -theme.platform.contract.home.split('/').filter((part) => part.includes('{')).length)
        .join('/'),
    ),
  );
  for (const kit of kits) {
    const { findings } = checkTheme(kit.theme, openChain(kit.theme, shelves), shelves);
    for (const finding of findings.filter((each) => each.severity === 'error')) {
      yield [['name'], `the kit “${kit.name}” does not pass: ${finding.file}:${finding.line} ${finding.message}`];
    }
  }
}
