import semver from 'semver';
import type { Configuration } from '../../configuration/configuration.ts';
import { compareText } from '../../files/file-tree.ts';
import { compareRanges } from '../../text/edits.ts';
import { isInKits, releasesInRange } from '../../platform/platform.ts';
import type { Chain } from '../../theme/chain.ts';
import type { Shelves } from '../../theme/shelf.ts';
import type { Theme } from '../../theme/theme.ts';
import type { Advice } from '../advice.ts';
import { findAcceptances, holdsAcceptance, type Acceptance, type ConfiguredAcceptance } from '../acceptances/acceptances.ts';
import { fillMessage, type Fix, type Report, type Rule, type RelatedPlace, type Severity, type MessageArguments } from '../rule.ts';
import { hasUnloadedRules, rulesUnder } from './own-rules.ts';
import { RULES } from '../rules.ts';
import { ruleSettings, defaultsOf } from './settings.ts';

/** Another place that a finding is about. Line and column count from 1. */
export interface FindingPlace {
  readonly message: string;
  /** Where the theme lies that it is in; undefined: the theme that was checked. */
  readonly folder?: string | undefined;
  /** From that theme's root. */
  readonly file: string;
  readonly line: number;
  readonly column: number;
  /** How many characters are meant; 0 for the whole file. */
  readonly length: number;
}

/** One thing `check` has to say. Line and column count from 1; both are 1 where no place in a file can be named. */
export interface Finding {
  readonly rule: string;
  readonly severity: Severity;
  readonly file: string;
  readonly line: number;
  readonly column: number;
  /** The sentence, which may change from one release to the next; {@link Finding.code} does not. */
  readonly message: string;
  /** Which of the rule's messages it is, and what stands in it. */
  readonly code: string;
  readonly args: MessageArguments;
  readonly why: string;
  /** What to do about it. */
  readonly hint?: Advice | undefined;
  readonly fix?: Fix | undefined;
  readonly related?: readonly FindingPlace[] | undefined;
  /** Whether the host does not take the theme because of it. */
  readonly isRefusal: boolean;
  /** Whether a visitor of the site sees, or misses, it. */
  readonly isSeen: boolean;
  /** The line that it stands in, and how many characters of it are meant. */
  readonly sourceLine?: string | undefined;
  readonly length: number;
}

export interface CheckResult {
  readonly findings: readonly Finding[];
  readonly rules: number;
  readonly files: number;
  /** How many findings were accepted. */
  readonly accepted: number;
  /** Which acceptances of configurations outside the theme accepted something: see {@link sharedKey}. */
  readonly usedShared?: readonly string[] | undefined;
  /** How many findings a baseline knew. */
  readonly known?: number | undefined;
}

export interface CheckOptions {
  /** Severity by rule, as `pionero.yaml` says it. */
  readonly severities?: Readonly<Record<string, Severity | 'off'>> | undefined;
  /** Findings that are meant to be so, as `pionero.yaml` says it. */
  readonly accept?: readonly ConfiguredAcceptance[] | undefined;
  /** By rule, what `pionero.yaml` sets of its options: see {@link ruleSettings}. */
  readonly settings?: Readonly<Record<string, Readonly<Record<string, unknown>>>> | undefined;
  /** Patterns of what is left out of packages, as `pionero.yaml` says it. */
  readonly excluded?: readonly string[] | undefined;
  /** The releases of the host to judge by; those that the theme says it is for when left out. */
  readonly releases?: readonly string[] | undefined;
  /** `submission` adds what the platform asks of themes that are handed in. */
  readonly purpose?: 'install' | 'submission' | undefined;
  /** Whether nothing but errors is asked for: rules that find none are left out. */
  readonly isForErrors?: boolean | undefined;
  /** All rules; Pionero’s own when left out. */
  readonly rules?: readonly Rule[] | undefined;
}

/** How the configuration wants a theme to be checked. @throws ConfigurationError when it sets what a rule does not know */
export function checkOptionsOf(configuration: Configuration, purpose?: CheckOptions['purpose']): CheckOptions {
  const known = optionsOf.get(configuration) ?? readOptions(configuration);
  // Modules of rules may be loaded later, or in another state.
  if (configuration['rule-files'].length === 0) optionsOf.set(configuration, known);
  return { ...known, purpose };
}

const optionsOf = new WeakMap<Configuration, CheckOptions>();

function readOptions(configuration: Configuration): CheckOptions {
  const { layers, pack } = configuration;
  const rules = rulesUnder(configuration);
  const accept = layers.flatMap((of) => of.accept.map((each, index) => ({ ...each, of, index })));
  return { ...ruleSettings(configuration, rules, !hasUnloadedRules(configuration)), accept, excluded: pack.exclude, rules };
}

/** Runs all rules on a theme. Findings are sorted by file, place and rule. */
export function checkTheme(theme: Theme, chain: Chain, shelves: Shelves, options: CheckOptions = {}): CheckResult {
  const steps = checkInSteps(theme, chain, shelves, options);
  for (let step = steps.next(); ; step = steps.next()) if (step.done === true) return step.value;
}

/** The same in steps, a text or a rule each, so that whoever has other work can do it between them. */
export function* checkInSteps(theme: Theme, chain: Chain, shelves: Shelves, options: CheckOptions = {}): Generator<undefined, CheckResult> {
  const releases = options.releases ?? releasesInRange(theme.platform, theme.hosts);
  const { rules = RULES } = options;
  const active = rulesWanted(rules, options);
  const { purpose = 'install', excluded = [], settings = {} } = options;
  const made = new Map<unknown, unknown>();
  const once = <T>(make: (of: Theme) => T): T => {
    if (!made.has(make)) made.set(make, make(theme));
    return made.get(make) as T;
  };
  const areReleasesKnown = options.releases !== undefined || statesReleases(theme);
  // Rules share it: if a user’s module could write there, all others would see it.
  const context = Object.freeze({ theme, chain, shelves, releases, areReleasesKnown, purpose, excluded, once, options: Object.freeze({}) });
  const told = (rule: Rule, report: Report): ReportedFinding => ({
    report,
    finding: toFinding(rule, report, options.severities?.[rule.meta.id]),
  });
  const asked = active.map((rule) => ({
    rule,
    own: 'options' in rule.meta ? { ...context, options: settings[rule.meta.id] ?? defaultsOf(rule.meta) } : context,
  }));
  const reported: ReportedFinding[] = [];
  const take = (rule: Rule, reports: Iterable<Report> = []): void => {
    // Most rules have nothing to report of most texts.
    let inFile: Map<string, number> | undefined;
    for (const report of reports) {
      inFile ??= new Map();
      const count = (inFile.get(report.file) ?? 0) + 1;
      inFile.set(report.file, count);
      // The files that a parent keeps for its children do not belong to it: “kit check” looks at them.
      if (count <= MOST_IN_A_FILE && !isInKits(theme.platform, report.file)) reported.push(told(rule, report));
    }
  };
  const filewise = asked.filter(({ rule }) => rule.checkFile !== undefined);
  const textwise = asked.filter(({ rule }) => rule.checkText !== undefined);
  // A theme may be larger than memory: what accepts findings is looked for while its texts are read.
  const accepting = textwise.length === 0 ? undefined : new Set<string>();
  for (const { path, kind } of filewise.length + textwise.length === 0 ? [] : theme.tree.entries) {
    if (kind !== 'file') continue;
    for (const { rule, own } of filewise) take(rule, rule.checkFile?.(path, own));
    const source = textwise.length === 0 ? undefined : theme.source(path);
    if (source !== undefined) {
      if (holdsAcceptance(source)) accepting?.add(path);
      for (const { rule, own } of textwise) take(rule, rule.checkText?.(source, own));
    }
    yield;
  }
  const mayAccept = (file: string): boolean => accepting?.has(file) !== false;
  for (const { rule, own } of asked) {
    take(rule, rule.check?.(own));
    yield;
  }
  const files = new Set(reported.map(({ finding }) => finding.file));
  const acceptances = findAcceptances(theme, options.accept ?? [], (file) => files.has(file) && mayAccept(file));
  const used = new Map<Acceptance, number>();
  const found = reported.filter(({ finding }) => {
    const own = acceptances.filter((each) => each.accepts(finding) && (used.get(each) ?? 0) < (each.most ?? Infinity));
    for (const acceptance of own) used.set(acceptance, (used.get(acceptance) ?? 0) + 1);
    return own.length === 0;
  });
  const accepted = reported.length - found.length;
  const outcome = {
    // Only for who asks are files without findings looked at.
    get unusedAcceptances() {
      const others = findAcceptances(theme, [], (file) => !files.has(file) && mayAccept(file));
      const unused = [...acceptances, ...others].filter((each) => each.shared === undefined && !used.has(each));
      return unused.filter((each) => options.severities?.[each.rule] !== 'off');
    },
    get rules() {
      return rules.map((rule) => rule.meta.id);
    },
    found: found.map(({ report }) => report),
    own: theme.names.id,
    parents: chain.themes.slice(1).map((each) => each.names.id),
    once,
  };
  const added = active.flatMap((rule) => [...(rule.after?.(outcome) ?? [])].map((report) => told(rule, report)));
  const absorbed = new Set(added.flatMap(({ report }) => report.absorbs ?? []));
  const all = [...found.filter(({ report }) => !absorbed.has(report)), ...added];
  all.sort(
    (a, b) =>
      compareText(a.report.file, b.report.file) ||
      compareRanges(a.report.range ?? START, b.report.range ?? START) ||
      compareText(a.finding.rule, b.finding.rule),
  );
  return {
    findings: all.map((each) => each.finding).filter(({ severity }) => options.isForErrors !== true || severity === 'error'),
    rules: active.length,
    accepted,
    usedShared: [...used.keys()].flatMap(({ shared }) => shared ?? []),
    files: theme.tree.entries.filter((entry) => entry.kind === 'file').length,
  };
}

/** Whether it can be read for which releases a theme is, where its platform has a place for that. */
function statesReleases({ platform, hosts }: Theme): boolean {
  const hasPlace = platform.contract.documents.some(({ fields }) => fields.some(({ fact }) => fact === 'hosts'));
  return hosts === undefined ? !hasPlace : semver.validRange(hosts) !== null;
}

/** The rules that are to be asked. */
function rulesWanted(rules: readonly Rule[], { severities, isForErrors = false }: CheckOptions): Rule[] {
  const severityOf = ({ meta }: Rule): Severity | 'off' => severities?.[meta.id] ?? meta.severity;
  const active = rules.filter((rule) => severityOf(rule) !== 'off');
  const isError = (rule: Rule): boolean => severityOf(rule) === 'error';
  if (!isForErrors || active.some((rule) => rule.meta.needsAll === true && isError(rule))) return active;
  // Nobody knows what a user's own rule makes of its reports.
  return active.filter((rule) => isError(rule) || rule.meta.isSign === true || !RULES.includes(rule));
}

/** A report, and the finding that it is. */
interface ReportedFinding {
  readonly report: Report;
  readonly finding: Finding;
}

/** Nobody reads more of one rule about one file: a text that holds one mistake a hundred thousand times is made to be slow. */
const MOST_IN_A_FILE = 1000;

const START = { start: 0, end: 0 };

/** The finding that a report of a rule is. */
export function toFinding(rule: Rule, report: Report, severity: Severity | 'off' | undefined): Finding {
  const { meta } = rule;
  const position = positionOf(report);
  const related = (report.related ?? []).flatMap((place) => relatedPlace(rule, place));
  return {
    rule: meta.id,
    // A reason to refuse the theme is an error, unless the configuration says otherwise.
    severity:
      severity === undefined || severity === 'off' ? (report.isRefusal === true ? 'error' : (report.severity ?? meta.severity)) : severity,
    file: report.file,
    ...position,
    message: messageOf(rule, report),
    code: report.message,
    args: report.args ?? {},
    why: meta.why,
    hint: report.hint,
    fix: report.fix,
    related: related.length === 0 ? undefined : related,
    isRefusal: report.isRefusal ?? false,
    isSeen: meta.isSeen === true,
    sourceLine: report.range === undefined ? undefined : report.source?.lineAt(position.line),
    length: report.range === undefined ? 0 : report.range.end - report.range.start,
  };
}

/** None for a place in a theme that does not lie on disk. */
function relatedPlace(rule: Rule, place: RelatedPlace): FindingPlace[] {
  const { theme, file, range } = place;
  const folder = theme?.place;
  if (theme !== undefined && folder === undefined) return [];
  const length = range === undefined ? 0 : range.end - range.start;
  return [{ message: messageOf(rule, place), folder, file, ...positionOf(place), length }];
}

function messageOf({ meta }: Rule, { message, args }: Pick<Report, 'message' | 'args'>): string {
  const template = meta.messages[message];
  if (template === undefined) throw new TypeError(`rule ${meta.id} has no message ${message}`);
  return fillMessage(template, args);
}

function positionOf({ source, range }: Pick<Report, 'source' | 'range'>): { readonly line: number; readonly column: number } {
  return source?.positionAt(range?.start ?? 0) ?? { line: 1, column: 1 };
}
