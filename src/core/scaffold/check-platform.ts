import { placeOfFolder } from '../theme/place.ts';
import { join } from 'node:path';
import { problemAtPath } from '../configuration/read-configuration.ts';
import type { ConfigurationProblem } from '../errors.ts';
import { contractProblems, type ContractProblem } from '../platform/contract-problems.ts';
import { judgeName, type Platform } from '../platform/platform.ts';
import { checkTheme } from '../rules/engine/check.ts';
import { openChain } from '../theme/chain.ts';
import { Shelves } from '../theme/shelf.ts';
import { listKits } from './kits.ts';
import type { Kit } from './kit.ts';

/** Problems of a platform file that its schema cannot see: contradictions, and kits that break their own platform's rules. */
export function checkPlatform(platform: Platform, shelves: readonly string[] = []): ConfigurationProblem[] {
  const kits = listKits({ platform });
  const names = [...nameProblems(platform, kits)].map(([path, message]) => problemAtPath(platform.source, path, message));
  return [...contractProblems(platform), ...names, ...kitProblems(platform, kits, shelves)];
}

function* nameProblems({ contract }: Platform, kits: readonly Kit[]): Generator<ContractProblem> {
  for (const kind of ['id', 'vendor'] as const) {
    const grammar = contract[kind];
    if (grammar === undefined) continue;
    const names = kits.flatMap((kit) => kit.theme.names[kind] ?? []);
    if (names.length > 0 && names.every((name) => judgeName(name, grammar) !== undefined))
      yield [[kind, 'pattern'], `the pattern matches none of the kits’ names (${names.join(', ')})`];
  }
}

/** Kits are working themes: they pass their own platform's check, their marker fields apart. */
function* kitProblems(platform: Platform, kits: readonly Kit[], folders: readonly string[]): Generator<ConfigurationProblem> {
  const shelves = new Shelves(platform, [...folders, ...kits.map((kit) => placeOfFolder(platform, kit.theme.location).shelf)]);
  for (const kit of kits) {
    const { findings } = checkTheme(kit.theme, openChain(kit.theme, shelves), shelves);
    for (const finding of findings.filter((each) => each.severity === 'error')) {
      const { line, column, sourceLine = '' } = finding;
      const file = join(kit.theme.location, finding.file);
      yield { file, line, column, sourceLine, message: `the kit “${kit.name}” does not pass: ${finding.message}` };
    }
  }
}
