import { basename, dirname, join } from 'node:path';
import { findConfiguration, type ConfigurationLayer } from '../../configuration/configuration.ts';
import { isWithin } from '../../files/paths.ts';
import { acceptUnused, reportUnused } from '../acceptances/accept-unused.ts';
import { acceptanceAt, sharedKey } from '../acceptances/acceptances.ts';
import { toFinding, type Finding } from './check.ts';
import type { CheckedFolder } from './check-folders.ts';
import { rulesUnder } from './own-rules.ts';
import { ruleSettings } from './settings.ts';

/**
 * Checks the configurations around themes, once for all of them: which acceptances accepted nothing in any theme.
 * @param roots the folders of which every theme was checked; absolute. Of a configuration above them nobody knows
 */
export function checkConfigurations(checked: readonly CheckedFolder[], roots: readonly string[]): CheckedFolder[] {
  if (checked.some(({ failure }) => failure !== undefined)) return [];
  const files = new Set(checked.flatMap(({ folder, basis }) => basis.configurations.filter((file) => !isWithin(file, folder))));
  const covered = [...files].filter((file) => roots.some((root) => isWithin(dirname(file), root)));
  const used = new Set(checked.flatMap(({ result }) => result.usedShared ?? []));
  return covered.flatMap((file) => {
    // Modules of rules stand among them.
    const layer = findConfiguration(dirname(file)).layers.find((each) => each.file === file);
    const findings = layer === undefined ? [] : unusedIn(layer, used);
    return findings.length === 0 ? [] : [entryOf(file, findings, [])];
  });
}

/** Findings about files around themes while these are checked one by one: all of them come after the themes. */
export class AroundThemes {
  readonly #roots: readonly string[];
  readonly #heldBack: CheckedFolder[] = [];
  readonly #checked: CheckedFolder[] = [];

  /** @param roots as of {@link checkConfigurations} */
  constructor(roots: readonly string[]) {
    this.#roots = roots;
  }

  /** Takes note of a theme. @returns whether to report it at the end: many may fail for one mistake outside of them */
  add(checked: CheckedFolder): boolean {
    // Its findings may be many.
    this.#checked.push({ ...checked, facts: {}, reasons: [], result: { ...checked.result, findings: [] } });
    if (mistakeOf(checked) === undefined) return false;
    this.#heldBack.push(checked);
    return true;
  }

  rest(): CheckedFolder[] {
    return [...withMistakesOnce(this.#heldBack), ...checkConfigurations(this.#checked, this.#roots)];
  }
}

function unusedIn(layer: ConfigurationLayer, used: ReadonlySet<string>): Finding[] {
  const configuration = findConfiguration(dirname(layer.file));
  const rules = rulesUnder(configuration);
  const { severities } = ruleSettings(configuration, rules, false);
  const severity = severities[acceptUnused.meta.id];
  const ids = rules.map(({ meta }) => meta.id);
  const unused = layer.accept.map((each, index) => ({ ...each, of: layer, index })).filter((each) => !used.has(sharedKey(each)));
  return severity === 'off'
    ? []
    : unused
        .filter(({ rule }) => severities[rule] !== 'off')
        .map((each) => toFinding(acceptUnused, reportUnused({ ...acceptanceAt(each), file: basename(layer.file) }, ids), severity));
}

/** Joins the failures of many themes by one mistake outside of them, in a configuration or a rule, into one entry. */
export function withMistakesOnce(checked: readonly CheckedFolder[]): CheckedFolder[] {
  const groups = new Map<string, CheckedFolder[]>();
  for (const each of checked) {
    const key = mistakeOf(each);
    if (key !== undefined) groups.set(key, [...(groups.get(key) ?? []), each]);
  }
  return checked.flatMap((each) => {
    const group = groups.get(mistakeOf(each) ?? '') ?? [];
    if (group.length < 2) return [each];
    const [first] = each.result.findings;
    if (group[0] !== each || first === undefined) return [];
    const file = join(each.folder, first.file);
    const findings = each.result.findings.map((finding) => ({ ...finding, file: basename(file) }));
    return [
      {
        ...entryOf(
          file,
          findings,
          group.map(({ id }) => id),
        ),
        failure: each.failure,
      },
    ];
  });
}

/** What tells one mistake in a file from another; undefined where a theme was checked, or lies around its own mistake. */
function mistakeOf({ folder, failure, result }: CheckedFolder): string | undefined {
  const places = result.findings.map((finding) => ({ ...finding, path: join(folder, finding.file) }));
  const isElsewhere = places.every(({ code, file, path }) => code === 'configuration' && file !== '' && !isWithin(path, folder));
  if (failure === undefined || places.length === 0 || !isElsewhere) return undefined;
  return places.map(({ path, line, column, message }) => `${path}:${line}:${column} ${message}`).join('\n');
}

/** An entry among what was checked that is about a file around themes. @param ids of the themes in whose place it stands */
function entryOf(file: string, findings: readonly Finding[], ids: readonly string[]): CheckedFolder {
  return {
    folder: dirname(file),
    id: basename(file),
    platform: { name: '', title: '' },
    facts: {},
    reasons: [],
    result: { findings, rules: 0, files: 0, accepted: 0 },
    basis: { folders: [], shelves: [], depth: 1, shared: [], siblings: [], configurations: [file] },
    standsFor: ids,
  };
}
