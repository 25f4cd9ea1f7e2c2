import { UsageError } from '../../core/errors.ts';
import { plainFacts } from '../../core/facts/plain-facts.ts';
import { count, listed, plural } from '../../core/text/sentence.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { planUpgrade, type Upgrade } from '../../core/upgrade/plan-upgrade.ts';
import { changeOptions, defineCommand, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { openThemes } from '../opened-themes.ts';
import { text, type Values } from '../option.ts';
import { findingJson } from '../output/json.ts';
import { upgradeText } from '../output/upgrade-text.ts';
import { diffText } from '../output/diff-text.ts';
import { forceOption, isHarmless } from '../proof-gate.ts';

const OPTIONS = {
  release: text('RELEASE', 'the release of the host that the themes are made ready for'),
  ...forceOption,
  ...changeOptions,
};
type Options = Values<typeof OPTIONS>;

export default defineCommand({
  arguments: [{ form: '[themes...]', about: 'themes, or folders of themes; default: the current folder' }],
  options: OPTIONS,
  examples: [
    'pionero upgrade lumbre --release 5',
    'pionero upgrade lumbre --release 5 --dry-run --verbose',
    'pionero upgrade shelf --release 5 --yes',
  ],
  async run(context, args, options) {
    const opened = await openThemes(args, context);
    const upgrades = planAll(opened, releaseWanted(opened, options));
    for (const [i, { theme }] of opened.entries()) {
      const upgrade = upgrades[i];
      if (i > 0) context.say('');
      if (upgrade !== undefined) context.say(upgradeText(theme.names.id, upgrade, context.paint, context.io.columns));
      if (upgrade !== undefined && context.options.verbose && upgrade.plan.operations.length > 0)
        context.say(`\n${diffText(upgrade.plan, context.paint)}`);
    }
    const changed = upgrades.filter(({ plan }) => plan.operations.length > 0);
    const isApplied = await isWritten(context, changed, options);
    context.result({
      themes: upgrades.map(upgradeJson),
      applied: isApplied,
    });
    const isReady = upgrades.every(({ open, broken }) => [...open, ...broken].every(({ severity }) => severity !== 'error'));
    return isReady ? ExitStatus.ok : ExitStatus.findings;
  },
});

/** @throws UsageError when none is named */
function releaseWanted(opened: readonly OpenedTheme[], { release }: Options): string {
  if (release !== undefined) return release;
  const known = new Map(opened.map(({ theme: { platform } }) => [platform.contract.title, platform.contract.releases]));
  throw new UsageError({
    what: 'for which release of the host?',
    hint: `name it with --release; ${[...known].map(([title, releases]) => `${title} has ${releases.join(', ')}`).join('; ')}`,
  });
}

/** Plans them in the order of their chains, so that a child is judged over its parent as that will be. */
function planAll(opened: readonly OpenedTheme[], release: string): Upgrade[] {
  const ready: Theme[] = [];
  return opened.map((each) => {
    const parents = ready.filter(({ platform, names }) => platform === each.theme.platform && each.theme.ancestors.includes(names.id));
    const upgrade = planUpgrade(each, parents.length === 0 ? each.shelves : each.shelves.with(parents), release);
    ready.push(upgrade.theme);
    return upgrade;
  });
}

async function isWritten(context: Context, changed: readonly Upgrade[], options: Options): Promise<boolean> {
  const { paint } = context;
  const [first] = changed;
  if (first === undefined) return false;
  context.say('');
  if (!changed.every(({ theme, broken }) => isHarmless(context, options, theme.names.id, broken))) return false;
  const what = changed.length === 1 ? count(first.files.length, 'file') : count(changed.length, 'theme');
  if (!(await isConfirmed(context, options, `Write ${what}?`))) return false;
  await context.applyAll(changed.map(({ plan }) => plan));
  context.say(`${paint.good('✓')} ${what} written; “pionero undo” reverts ${plural(changed.length, 'it', 'all of them')}.`);
  const open = changed.filter((each) => each.open.length > 0);
  if (open.length > 0)
    context.say(
      `${paint.warn('▲')} “pionero check” goes on reporting what you must decide in ${listed(
        open.map(({ theme }) => theme.names.id),
        6,
      )}.`,
    );
  return true;
}

function upgradeJson({ theme, release, range, fixes, dropped, open, broken }: Upgrade): object {
  return {
    theme: plainFacts(theme),
    platform: theme.platform.contract.name,
    release,
    range: range ?? null,
    changes: fixes.map(({ finding, fix }) => ({ rule: finding.rule, file: finding.file, line: finding.line, title: fix.title })),
    dropped,
    open: open.map(findingJson),
    newFindings: broken.map(findingJson),
  };
}
