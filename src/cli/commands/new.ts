import { basename } from 'node:path';
import { UsageError } from '../../core/errors.ts';
import { fillShape } from '../../core/names/shape.ts';
import { findKit } from '../../core/scaffold/kits.ts';
import { planNewTheme, type NewTheme } from '../../core/scaffold/new-theme.ts';
import { defineCommand, type Context } from '../command.ts';
import { isConfirmed, isFolderWanted } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { findingsText, headline } from '../output/findings-text.ts';
import { plainFacts } from '../../core/theme/plain-facts.ts';
import { count } from '../output/paint.ts';
import { treeText } from '../output/tree-text.ts';
import { readUserStart } from '../../core/configuration/user-configuration.ts';
import { startFacts, type StartFact } from '../../core/scaffold/start-facts.ts';
import { userConfigurationFile } from '../io.ts';
import { openArgument, sayLeftBehind } from '../theme-argument.ts';
import { askForNewTheme, newOptions } from './new-questions.ts';

export default defineCommand({
  arguments: [{ form: '[id]', about: 'the theme’s id, used in code and as its folder’s name' }],
  options: newOptions,
  examples: [
    'pionero new cierzo --platform vereda',
    'pionero new cierzo --platform vereda --parent albar --shelf demo/shelf --title "Refugio Cierzo" --yes',
  ],
  async run(context, args, given) {
    const here = given.here ? context.io.folder : undefined;
    const answers = await askForNewTheme(context, { id: args[0] ?? (here === undefined ? undefined : basename(here)), options: given });
    const platform = answers.platform ?? context.platformNamed(context.options.platform ?? onlyPlatform(context));
    const id = answers.id;
    if (id === undefined)
      throw new UsageError({
        what: 'the id of the new theme is missing',
        hint: `for example: pionero new cierzo; ${platform.contract.id.grammar}`,
      });
    if (here !== undefined && id !== basename(here)) {
      throw new UsageError({
        what: `--here works on the folder ${basename(here)}, which cannot hold a theme called “${id}”`,
        hint: 'leave the id out',
      });
    }
    const into = context.path(given.to);
    if (!given.dryRun && here === undefined && !(await isFolderWanted(context, into, given))) return ExitStatus.ok;
    const shelves = context.shelvesOf(platform, here === undefined ? into : context.path('..'));
    const parent = answers.parent ?? given.parent;
    const parentFolder = parent === undefined ? undefined : shelves.find(parent)?.folder;
    const kit = await findKit({ platform, parentFolder, shelves, parts: given.without }, answers.kit ?? given.kit, parent !== undefined);
    sayLeftBehind(context, kit.from, kit.leftBehind);
    const yours = readUserStart(userConfigurationFile(context.io.env), platform.contract.name);
    const like = given.like === undefined ? undefined : await openArgument(given.like, context);
    const shelved = parent === undefined ? undefined : shelves.find(parent);
    const starts = startFacts({
      platform,
      given: parseFacts(given.set),
      asked: answers.facts,
      yours: yours.facts,
      like: like?.theme,
      parent: shelved === undefined ? undefined : shelves.open(shelved),
      hosts: kit.theme.text('hosts'),
    });
    const facts = Object.fromEntries(starts.map(({ fact, value }) => [fact, value]));
    const vendor = answers.vendor ?? given.vendor ?? (platform.contract.vendor === undefined ? undefined : yours.vendor);
    const planned = planNewTheme({
      platform,
      kit,
      id,
      title: answers.title ?? given.title,
      vendor,
      parent,
      facts,
      without: given.without,
      only: given.only,
      take: given.take,
      keptWords: given.keepWord,
      now: context.io.now(),
      kitNames: [...given.kitName, ...(answers.kitNames ?? [])],
      shelves,
      into,
      here,
    });
    const what = `${planned.plan.title}: ${parent === undefined ? 'a theme' : `a child of ${parent}`} for ${platform.contract.title}, from the kit “${kit.name}”`;
    showPlan(context, planned, what);
    showFacts(context, starts, { like: given.like, parent });
    if (given.without.length + given.only.length > 0) showLacks(context, planned);
    const created = planned.plan.operations.filter((operation) => operation.op !== 'folder').map((operation) => operation.path);
    const isApplied = created.length > 0 && (await isConfirmed(context, given, 'Make it?'));
    if (isApplied) {
      await context.apply(planned.plan);
      showOutcome(context, planned, kit.theme.names.id);
    }
    context.result({ theme: plainFacts(planned.theme), kit: kit.name, created, applied: isApplied });
    return planned.findings.some((finding) => finding.severity === 'error') ? ExitStatus.findings : ExitStatus.ok;
  },
});

function onlyPlatform(context: Context): string {
  const names = context.platforms().map((platform) => platform.contract.name);
  const [first, ...others] = names;
  if (first !== undefined && others.length === 0) return first;
  throw new UsageError({
    what: 'the platform is missing',
    hint: `say which host the theme is for with --platform: ${names.join(', ')}, or a platform file`,
  });
}

/** @throws UsageError when one is not of the form fact=value */
function parseFacts(pairs: readonly string[]): Record<string, string> {
  return Object.fromEntries(
    pairs.map((pair) => {
      const at = pair.indexOf('=');
      if (at < 1)
        throw new UsageError({
          what: `“${pair}” is not of the form fact=value`,
          hint: 'for example: --set summary="A warm theme for huts"',
        });
      return [pair.slice(0, at).trim(), pair.slice(at + 1)];
    }),
  );
}

function showPlan(context: Context, { plan, names, removed, taken }: NewTheme, what: string): void {
  const { paint } = context;
  const lines = plan.operations.map((operation) => ({
    path: operation.path,
    size: operation.op === 'create' ? operation.size : undefined,
  }));
  context.say(`${paint.strong(what)}\n`);
  if (lines.length === 0) context.say('Nothing is lacking: every file of the kit is here already.');
  else context.say(`${paint.name(`${context.shown(plan.root)}/`)}\n${treeText(lines, paint)}\n`);
  if (names.length > 0)
    context.say(
      `Replaced as well: ${names.map(({ text, evidence }) => `${paint.strong(text)} ${paint.faint(`(${evidence})`)}`).join(', ')}`,
    );
  for (const { file, theme, from } of taken)
    context.say(
      `Taken: ${file} from ${theme}${from === file ? '' : `, where it is ${from}`}; what ${theme} changes there later does not reach this theme`,
    );
  for (const { file, line, text } of removed)
    context.say(`Deleted, as the kit says: ${file}:${line}\n${text.replaceAll(/^/gm, `  ${paint.bad('−')} `)}`);
  if (names.length + removed.length + taken.length > 0) context.say('');
}

/** Facts that nobody typed here, and where they come from. */
function showFacts(
  context: Context,
  starts: readonly StartFact[],
  { like, parent }: { like?: string | undefined; parent?: string | undefined },
): void {
  const from = { given: '', asked: '', yours: 'your configuration', like: `like ${like}`, parent: `the parent ${parent}` };
  const own = starts.filter((each) => from[each.from] !== '');
  if (own.length === 0) return;
  const { paint } = context;
  context.say(
    `Facts: ${own.map((each) => `${each.fact} ${paint.strong(each.value)} ${paint.faint(`(${from[each.from]})`)}`).join(', ')}\n`,
  );
}

/** What is left still needs something that is left out: said before anything is written. */
function showLacks(context: Context, { findings }: NewTheme): void {
  if (findings.length === 0) return;
  context.warn(`What is left out is missed:\n\n${findingsText(findings, context.paint, context.io.columns)}\n`);
}

function showOutcome(context: Context, planned: NewTheme, kitName: string): void {
  const { plan, theme, findings, names } = planned;
  const { paint } = context;
  const files = plan.operations.filter((operation) => operation.op !== 'folder').length;
  context.say(
    `${paint.good('✓')} ${theme.names.id} is made: ${count(files, 'file')} in ${context.shown(plan.root)}; “pionero undo” reverts it.`,
  );
  if (names.length > 0) {
    const left = planned.leftovers();
    const called = [kitName, ...names.map(({ text }) => text)].map((text) => `“${text}”`).join(', ');
    if (left.length === 0) context.say(`${paint.good('✓')} A second scan found nothing of ${called} left.`);
    else
      context.warn(
        `${paint.bad('✗')} Left of ${called}:\n${left.map(({ file, line, column, text }) => `  ${file}:${line}:${column}  ${text}`).join('\n')}`,
      );
  }
  if (findings.length > 0) {
    const result = { findings, files: theme.tree.entries.length };
    context.warn(
      `\n${headline({ id: theme.names.id, platform: theme.platform.contract, result }, paint)}\n\n${findingsText(findings, paint, context.io.columns)}`,
    );
  }
  const steps = theme.platform.contract['next-steps'].new.map((step) => fillShape(step, theme.names));
  if (steps.length > 0) context.say(`\n${paint.strong('Next')}\n${steps.map((step, i) => `  ${i + 1}. ${step}`).join('\n')}`);
}
